"""What the help pages say: a task, its steps in order, and where each is done."""

from dataclasses import dataclass


@dataclass(frozen=True)
class HelpStep:
    """One step: what to do, and the page on which it is done."""

    text: str
    view: str = ""
    link: str = ""


@dataclass(frozen=True)
class HelpTopic:
    """One task that people come with."""

    slug: str
    title: str
    lead: str
    steps: tuple[HelpStep, ...]
    words: str
    """Further words by which it is found."""


TOPICS = (
    HelpTopic(
        "practice",
        "Learn to measure before you own an animal",
        "Simulated enclosures with something hidden in them, instruments to find it with.",
        (
            HelpStep(
                "Begin with the first lesson, or with the case of the day.",
                "practice:overview",
                "Practice",
            ),
            HelpStep(
                "Read what the keeper says, and what the animal needs. Choose an instrument, a place"
                " and an hour, and hold it with care: each has its trap."
            ),
            HelpStep(
                "Compare the keeper’s thermometer with yours before you believe either. Read the"
                " room, too."
            ),
            HelpStep(
                "Say what is wrong, or that nothing is, and what you change. You see what two weeks"
                " make of it, and which measurement would have shown it."
            ),
        ),
        "learn train trainer lesson case exercise simulate club",
    ),
    HelpTopic(
        "outdoors",
        "Take an animal outside for the day",
        "A pen that is right for who goes out, and the hours in which they can be in it.",
        (
            HelpStep(
                "Say who goes out. A pen that is right for them is planned, or describe the one you"
                " have.",
                "pens:new",
                "Add an outdoor pen",
            ),
            HelpStep(
                "Put right what the pen’s page names, dangers first: cover, shade, walls that hold,"
                " no glass."
            ),
            HelpStep(
                "On the day, type the forecast: the page says from when it is warm enough and when"
                " the shade gets too hot.",
                "pens:list",
                "Outdoor pens",
            ),
            HelpStep(
                "Log when they go out and come in. A thermometer in the shade of the pen decides,"
                " not a forecast; look every half hour."
            ),
        ),
        "garden lawn sun outside patio balcony tortoise summer net",
    ),
    HelpTopic(
        "second-look",
        "Review an enclosure that somebody describes",
        "From a paragraph and a photo to what is dangerous, what is missing and what is good.",
        (
            HelpStep(
                "Paste what was said, in any units, without names and places of people.",
                "reviews:list",
                "Second look",
            ),
            HelpStep(
                "Look at what was understood and what was not. Correct the facts, or add what you"
                " know; what is empty was not said."
            ),
            HelpStep(
                "Read the findings from the first to the last, and the questions: their order is"
                " that of what the answers would change."
            ),
            HelpStep(
                "Give it back: a text to send, a PDF, or a page by a link that is open for 30 days."
                " The receiver can plan the corrected enclosure in an own household."
            ),
        ),
        "review judge check friend photo advice club rescue is this right",
    ),
    HelpTopic(
        "first-enclosure",
        "Set up a first enclosure",
        "From the animal to an enclosure that is predicted, built and checked.",
        (
            HelpStep(
                "Read what the species needs: size, warmth, ultraviolet, humidity, years.",
                "species_guide:list",
                "Species",
            ),
            HelpStep(
                "Add the animal and its enclosure. The suggested equipment is predicted before you"
                " buy anything; change it until every line is in range.",
                "first_setup:begin",
                "Add animal",
            ),
            HelpStep(
                "Open Layout to move lamps and furnishings. Needs are judged while you move them.",
                "enclosures:list",
                "Enclosures",
            ),
            HelpStep(
                "Open Build & check: the shopping list, the steps with their waiting times, and the"
                " cautions for electricity, heat and load. Mains wiring is work for an electrician."
            ),
            HelpStep(
                "Run the empty enclosure for at least two days and log the readings of the"
                " commissioning check. Then approve the move-in."
            ),
        ),
        "begin new start build buy shopping plan move in",
    ),
    HelpTopic(
        "readings-differ",
        "My readings differ from the prediction",
        "A reading that was taken well counts for more than a prediction.",
        (
            HelpStep(
                "Take the reading again: at the animal’s back, after six hours of lamps, with a"
                " shaded probe for air and a surface thermometer for the basking place."
            ),
            HelpStep(
                "Check the instrument. Put two of them side by side, or in melting ice (0 °C), and"
                " log the offset with the reading."
            ),
            HelpStep(
                "Log the reading on the enclosure’s Status page. From then on the number that you"
                " measured is judged, and the prediction follows it (calibration).",
                "enclosures:list",
                "Enclosures",
            ),
            HelpStep(
                "Look at what the readings changed: a lamp that is weaker than its class, a lid that"
                " leaks more, a room that is colder. Correct in Layout what is not as drawn."
            ),
        ),
        "measured wrong calibration thermometer offset different instrument",
    ),
    HelpTopic(
        "marks",
        "What the marks mean",
        "Every need is a line with a target range, one or two marks, and a verdict.",
        (
            HelpStep("The broad band is the target range that the species needs at this stage."),
            HelpStep("The dotted lines are safe limits. Past them the animal comes to harm."),
            HelpStep(
                "An open diamond is the prediction; the whisker holds the true value nine times of"
                " ten. A filled circle is your reading."
            ),
            HelpStep(
                "A tick says in range; a triangle up says too high; a triangle down says too low;"
                " a dash says not known yet. No mark relies on colour alone."
            ),
            HelpStep(
                "Each underlined number opens how it was calculated: the rule, what went into it,"
                " and the source."
            ),
        ),
        "gauge symbol legend diamond circle colour range limit triangle whisker",
    ),
    HelpTopic(
        "daily-care",
        "Do and log the daily care",
        "Today lists what is due, enclosure by enclosure, in the order in which you walk.",
        (
            HelpStep(
                "Tap the button of a task when it is done. Without network the entry waits on your"
                " device and is sent later.",
                "today:page",
                "Today",
            ),
            HelpStep("Open More to skip a task with a reason, or to log another amount."),
            HelpStep("A wrong entry can be undone in the log for a while.", "today:log", "Log"),
            HelpStep(
                "Share the tasks with a sitter: a calendar address, or a membership of the"
                " household.",
                "today:feeds",
                "Calendars",
            ),
        ),
        "feeding cleaning water misting sitter holiday undo",
    ),
    HelpTopic(
        "unwell",
        "My animal seems unwell",
        "Write down what you see, and see a veterinarian who knows reptiles and amphibians.",
        (
            HelpStep(
                "Open the animal, then Care and Unwell?. Tick the signs that you see; they are"
                " logged with the date.",
                "animals:list",
                "Animals",
            ),
            HelpStep(
                "The page gathers what a veterinarian asks for: weights, meals, sheds, temperatures"
                " and ultraviolet. Print it or show it."
            ),
            HelpStep(
                "Nothing here is a diagnosis or a dose. Gasping, bleeding, paralysis, a prolapse or"
                " burns are emergencies: call at once."
            ),
        ),
        "sick ill vet veterinarian emergency symptoms dying not eating",
    ),
)
