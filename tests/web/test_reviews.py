"""Second look: a description is kept apart from everything, corrected, judged, given back."""

import io
import json
import time
from typing import Any

import pytest
from django.test import Client
from PIL import Image
from procrastinate.contrib.django.models import ProcrastinateJob

from ridgeback import background
from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.enclosures.models import Enclosure
from ridgeback.jobs import tasks
from ridgeback.jobs.models import Job
from ridgeback.log.models import LogEntry
from ridgeback.reviews import flows
from ridgeback.reviews.models import EnclosureReview, ReviewLink

pytestmark = pytest.mark.usefixtures("pip")

BEARDIE = (
    "Bearded dragon 2 years old, 40 gallon breeder, 100 W basking bulb, basking at 95F, no UVB,"
    " sand, two hides, crickets every day"
)
GOOD = (
    "Adult ball python 1600g in a 4x2x2 ft PVC enclosure, radiant heat panel 80W on a thermostat,"
    " warm end 31C, cool end 25C, night 24C, humidity 60%, coco husk 8 cm deep, two hides, soaking"
    " bowl, medium rat every two weeks, digital thermometer and hygrometer."
)


def added(client: Client, text: str = BEARDIE) -> EnclosureReview:
    """A review that was pasted."""
    answer = client.post("/second-look/", {"text": text})
    assert answer.status_code == 302
    return EnclosureReview.objects.latest("pk")


def corrected(own: EnclosureReview) -> EnclosureReview:
    """A review of which a worker has looked for the correction."""
    tasks.correct_review(own.pk)
    return own


def facts(client: Client, own: EnclosureReview, **changed: Any) -> dict[str, Any]:
    """The facts form as the page shows it, some of it changed."""
    form = client.get(f"/second-look/{own.pk}/").context["form"]
    shown = {name: form[name].value() for name in form.fields}
    return {name: "" if value is None else value for name, value in (shown | changed).items()}


def test_a_description_is_read_judged_and_touches_nothing_else(client: Client) -> None:
    before = (Animal.objects.count(), Enclosure.objects.count(), LogEntry.objects.count())
    own = added(client)
    assert own.title == "Central bearded dragon, 91 × 46 × 41 cm"
    page = client.get(f"/second-look/{own.pk}/")
    text = page.content.decode()
    assert "Harms over weeks: no UVB" in text
    assert "<mark" in text
    assert "100 W basking lamp" in text
    assert "Is the heater on a thermostat" in text
    assert (Animal.objects.count(), Enclosure.objects.count(), LogEntry.objects.count()) == before


def test_numbers_are_in_the_readers_units(client: Client) -> None:
    own = added(client)
    client.post("/preferences/", {"units_temperature": "f"})
    text = client.get(f"/second-look/{own.pk}/").content.decode()
    assert "said 95 °F" in text
    assert "needed 102 to 109 °F" in text


def test_a_corrected_fact_is_judged_again(client: Client) -> None:
    own = added(client)
    sent = facts(
        client, own, uv="T5 tube 12 %, 60 cm long, 30 cm above, 2 months old", thermostat="yes"
    )
    assert client.post(f"/second-look/{own.pk}/", sent).status_code == 302
    own.refresh_from_db()
    assert own.said.thermostat is True
    assert own.said.uv is not None
    assert own.said.uv[0].kind == "t5"
    found = flows.judged(own, correct=False)
    assert "no uv" not in {one.slug for one in found.findings}
    assert "thermostat" not in {one.slug for one in found.questions}


def test_saving_the_facts_unchanged_changes_no_fact(client: Client) -> None:
    own = added(client)
    before = own.said
    client.post(f"/second-look/{own.pk}/", facts(client, own))
    own.refresh_from_db()
    assert own.said.model_dump(exclude={"sides_m", "volume_l", "contradictions"}) == (
        before.model_dump(exclude={"sides_m", "volume_l", "contradictions"})
    )


@pytest.mark.parametrize(
    ("field", "typed", "sentence"),
    [
        ("heat", "zorbulator", "Nothing was understood of"),
        ("temperature_basking", "warm", "is no temperature"),
        ("mass", "heavy", "heavy"),
        ("hides", "99", "12"),
        ("species", "Draco volans", "Select a valid choice"),
    ],
)
def test_a_fact_that_cannot_be_read_is_said_beside_its_field(
    client: Client, field: str, typed: str, sentence: str
) -> None:
    own = added(client)
    page = client.post(f"/second-look/{own.pk}/", facts(client, own, **{field: typed}))
    assert page.status_code == 200
    assert sentence in str(page.context["form"].errors[field])
    assert typed in page.content.decode()
    own.refresh_from_db()
    assert own.version == 0


@pytest.mark.parametrize(
    ("text", "sentence"),
    [("   ", "Paste or write what was said"), ("sand " * 2000, "at most 8 000")],
)
def test_no_text_and_a_novel_are_refused_with_a_sentence(
    client: Client, text: str, sentence: str
) -> None:
    page = client.post("/second-look/", {"text": text})
    assert page.status_code == 200
    assert sentence in page.content.decode()
    assert not EnclosureReview.objects.exists()


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("My king cobra has a heat rock", "is not in the species guide"),
        ("10 gallon tank, sand", "It was not said which animal lives there"),
        ("Corn snake in a 10 gallon 4 foot tank", "do not belong to one enclosure"),
        ("Corn snake under a 900 W bulb", "more than any single lamp"),
        ("Corn snake in a tank of 9 x 9 x 9 m in size, hides", "Corn snake"),
        ("<script>alert(1)</script> gecko & friends", "&lt;script&gt;"),
    ],
)
def test_what_cannot_be_judged_is_said_and_nothing_invented(
    client: Client, text: str, sentence: str
) -> None:
    page = client.get(f"/second-look/{added(client, text).pk}/")
    assert page.status_code == 200
    assert sentence in page.content.decode()


def test_the_correction_is_drawn_and_can_be_planned_at_home(client: Client) -> None:
    own = added(client)
    waiting = client.get(f"/second-look/{own.pk}/correction/").content.decode()
    assert "Looking for the fewest changes" in waiting
    assert client.get(f"/second-look/{own.pk}/take-in/").status_code == 404
    corrected(own)
    shown = client.get(f"/second-look/{own.pk}/correction/").content.decode()
    assert "A larger enclosure" in shown
    assert "Corrected, seen from the front" in shown
    assert "In which order" in shown
    names = {"name": "Dragon’s next", "room": "Spare room"}
    answer = client.post(f"/second-look/{own.pk}/take-in/", names)
    made = Enclosure.objects.get(name="Dragon’s next")
    assert answer["Location"] == f"/enclosures/{made.pk}/"
    assert client.get(answer["Location"]).status_code == 200
    again = client.post(f"/second-look/{own.pk}/take-in/", names)
    assert "of this name already" in again.content.decode()


def test_a_proven_setup_is_left_as_it_is(client: Client) -> None:
    own = corrected(added(client, GOOD))
    assert "Nothing in it has to change" in (
        client.get(f"/second-look/{own.pk}/correction/").content.decode()
    )


def test_the_letter_says_what_is_good_what_to_change_and_what_to_ask(client: Client) -> None:
    text = client.get(f"/second-look/{added(client).pk}/letter/").content.decode()
    assert "What is good:" in text
    assert "This harms over weeks:" in text
    assert "What would help me to say more:" in text
    assert "reptile veterinarian" in text


def test_a_link_shows_the_review_to_anybody_until_it_is_closed(client: Client) -> None:
    own = corrected(added(client))
    page = client.post(f"/second-look/{own.pk}/share/", follow=True)
    address = page.context["address"]
    secret = address.rstrip("/").rpartition("/")[2]
    assert secret not in ReviewLink.objects.get().secret_hash
    assert client.get(f"/second-look/{own.pk}/").context["address"] == ""
    path = f"/look/{secret}/"
    shown = Client().get(path)
    assert shown.status_code == 200
    assert "No UVB" in shown.content.decode()
    assert Client().get(f"{path}take-in/").status_code == 302
    client.post(f"/second-look/{own.pk}/unshare/")
    assert Client().get(path).status_code == 404


def test_a_link_that_has_run_out_opens_nothing(client: Client) -> None:
    own = added(client)
    secret = flows.share(own, own.household.day_of(now()))
    ReviewLink.objects.update(until_on="2020-01-01")
    assert Client().get(f"/look/{secret}/").status_code == 404


def test_a_receiver_takes_the_corrected_plan_into_an_own_household(
    client: Client, stranger: Client
) -> None:
    own = corrected(added(client))
    secret = flows.share(own, own.household.day_of(now()))
    answer = stranger.post(
        f"/look/{secret}/take-in/", {"name": "From a friend", "room": "Bedroom"}, follow=True
    )
    assert answer.status_code == 200
    assert "From a friend" in answer.content.decode()
    made = Enclosure.objects.for_planning().get(name="From a friend")
    assert made.present[0].animal.species == "Pogona vitticeps"


def test_reviews_are_found_by_their_words_and_deleted(client: Client) -> None:
    first = added(client)
    added(client, GOOD)
    found = client.get("/second-look/", {"q": "crickets dragon"}).context["page"].object_list
    assert [one.pk for one in found] == [first.pk]
    assert "No review says" in client.get("/second-look/", {"q": "zzz"}).content.decode()
    client.post(f"/second-look/{first.pk}/delete/")
    assert not EnclosureReview.objects.filter(pk=first.pk).exists()


def test_a_form_sent_twice_makes_one_review(client: Client) -> None:
    sent = {"text": BEARDIE, "form_key": "6f1f9d4e-2f4e-4d7e-9f0e-0d5d9d3c1a11"}
    client.post("/second-look/", sent)
    client.post("/second-look/", sent)
    assert EnclosureReview.objects.count() == 1


def picture() -> io.BytesIO:
    """A small photo."""
    out = io.BytesIO()
    Image.new("RGB", (60, 40), "brown").save(out, "JPEG")
    out.seek(0)
    out.name = "enclosure.jpg"
    return out


def test_a_photo_lies_beside_the_drawing_once_it_is_small(client: Client) -> None:
    client.post("/second-look/", {"text": BEARDIE, "photo": picture()})
    own = EnclosureReview.objects.get()
    tasks.shrink_review_photo(own.pk)
    tasks.shrink_review_photo(own.pk)
    own.refresh_from_db()
    assert own.photo_original is None
    assert own.photo
    assert client.get(f"/second-look/{own.pk}/photo/")["Content-Type"] == "image/jpeg"
    assert "Photo of the enclosure" in client.get(f"/second-look/{own.pk}/").content.decode()


def test_a_file_that_is_no_photo_is_refused_and_the_text_stays(client: Client) -> None:
    wrong = io.BytesIO(b"no photo")
    wrong.name = "x.jpg"
    page = client.post("/second-look/", {"text": BEARDIE, "photo": wrong})
    assert "no photo that can be read" in page.content.decode()
    assert "crickets every day" in page.content.decode()


def test_another_households_review_is_not_found(client: Client, stranger: Client) -> None:
    own = added(client)
    for path in ("", "correction/", "letter/", "photo/", "take-in/"):
        assert stranger.get(f"/second-look/{own.pk}/{path}").status_code == 404
    for path in ("", "delete/", "share/", "unshare/", "pdf/"):
        assert stranger.post(f"/second-look/{own.pk}/{path}", {}).status_code == 404


@pytest.mark.django_db(transaction=True)
def test_the_pdf_holds_findings_and_correction(client: Client) -> None:
    own = added(client)
    client.post(f"/second-look/{own.pk}/pdf/", {"size": "A4"})
    job = Job.objects.get()
    tasks.make_sheet(job.pk)
    job.refresh_from_db()
    assert job.state == "done"
    assert bytes(job.made or b"").startswith(b"%PDF")


def test_facts_that_no_description_has_are_refused_by_the_model() -> None:
    own = EnclosureReview(title="x", description=json.loads('{"hides": -3}'))
    with pytest.raises(Exception, match="hides"):
        own.clean_fields(exclude=["household", "by", "made_at"])


def test_who_saves_facts_that_were_changed_meanwhile_is_told(client: Client) -> None:
    own = added(client)
    mine = facts(client, own, title="Mine")
    client.post(f"/second-look/{own.pk}/", facts(client, own, title="Theirs"))
    answer = client.post(f"/second-look/{own.pk}/", mine)
    page = answer.content.decode()
    assert "Somebody changed this review meanwhile" in page
    assert 'value="Mine"' in page
    own.refresh_from_db()
    assert own.title == "Theirs"
    client.post(f"/second-look/{own.pk}/", {**mine, "revision": own.version})
    own.refresh_from_db()
    assert own.title == "Mine"


def test_a_fix_is_tried_on_the_drawing(client: Client) -> None:
    own = corrected(added(client))
    answer = client.get(
        f"/second-look/{own.pk}/tried/", {"fix": ["no uv"]}, headers={"HX-Request": "true"}
    )
    view = answer.context["view"]
    assert "No UVB" in view.mended
    assert view.drawn.svg
    assert view.price
    page = client.get(f"/second-look/{own.pk}/tried/?fix=no+uv").content.decode()
    assert "Back to the review" in page


def test_a_fix_without_its_corrected_plan_waits(client: Client) -> None:
    own = added(client)
    url = f"/second-look/{own.pk}/tried/"
    waiting = client.get(url, {"fix": ["no uv"]})
    assert waiting.context["waits"]
    assert "tried/?fix=no+uv" in waiting.content.decode(), "it asks again for the same fixes"
    facts_only = client.get(url, {"fix": ["one insect", "no such thing"]})
    assert facts_only.context["view"].mended == ("One kind of insect",)


def test_fixes_of_another_household_are_not_there(client: Client, stranger: Client) -> None:
    own = added(client)
    assert stranger.get(f"/second-look/{own.pk}/tried/?fix=no+uv").status_code == 404


def test_a_correction_that_takes_too_long_is_given_up_and_said(client: Client) -> None:
    own = added(client)
    EnclosureReview.objects.filter(pk=own.pk).update(correction_tries=flows.MOST_TRIES)
    tasks.correct_review(own.pk)
    for path in (f"/second-look/{own.pk}/correction/", f"/second-look/{own.pk}/"):
        assert client.get(path).status_code == 200
    shown = client.get(f"/second-look/{own.pk}/correction/").content.decode()
    assert "took too long and was stopped" in shown
    client.post(f"/second-look/{own.pk}/", facts(client, own, title="Another try"))
    own.refresh_from_db()
    assert own.correction_tries == 0, "other facts are looked at anew"


def test_corrections_of_a_household_run_one_after_another(client: Client) -> None:
    for _ in range(2):
        client.get(f"/second-look/{added(client).pk}/correction/")
    queued = ProcrastinateJob.objects.filter(task_name="correct_review")
    assert len({job.lock for job in queued}) == 1 and len(queued) == 2


def test_a_correction_has_a_deadline(client: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    ended: list[int] = []
    own = added(client)
    monkeypatch.setattr(background, "end_worker", lambda what, pk: ended.append(pk))
    monkeypatch.setattr(flows, "CORRECT_S", 0.01)
    monkeypatch.setattr(flows, "judged", lambda own, correct: time.sleep(0.2))
    tasks.correct_review(own.pk)
    assert ended == [own.pk]
