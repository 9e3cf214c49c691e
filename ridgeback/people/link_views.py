"""What a personal link opens: a sitter's tasks of today, or some animals to look at."""

import datetime as dt
from dataclasses import dataclass
from functools import wraps
from typing import Any, Protocol

from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_POST, require_safe

from husbandry.quantity import Kind, Units, show
from husbandry.tasks.kinds import TASK_KINDS
from husbandry.tasks.supplies import taken
from ridgeback.animals import wording
from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.log import flows as log_flows
from ridgeback.log.models import LogEntry
from ridgeback.people.models import PersonalLink, hash_of
from ridgeback.photos.models import Picture
from ridgeback.species_guide.flows import profile_of
from ridgeback.supplies import flows as stock
from ridgeback.tasks.due_tasks import Due, gather
from ridgeback.today.presenting import EnclosureCard, card, entry_view
from ridgeback.today.task_logging import NotDueError, WrongError, understand

SHOWN_WEIGHTS, SHOWN_MEALS = 10, 10


class LinkView(Protocol):
    """A page that a personal link opens."""

    def __call__(
        self, request: HttpRequest, link: PersonalLink, secret: str, **more: Any
    ) -> HttpResponse: ...


def opened_by(kind: str) -> Any:
    """A decorator: the page of a link of that kind, on its days; else it says that it is closed."""

    def decorate(view: LinkView) -> Any:
        @wraps(view)
        def answer(request: HttpRequest, secret: str, **more: Any) -> HttpResponse:
            rows = PersonalLink.objects.select_related("household", "made_by")
            link = rows.filter(secret_hash=hash_of(secret), kind=kind).first()
            if link is None:
                raise Http404
            at = now()
            if not link.is_open(link.household.day_of(at)):
                context = {"link": link, "today": link.household.day_of(at)}
                return render(request, "people/link_closed.html", context, status=403)
            PersonalLink.objects.filter(pk=link.pk).update(seen_at=at)
            return view(request, link, secret, **more)

        return login_not_required(never_cache(answer))

    return decorate


def _units(link: PersonalLink) -> Units:
    """The units of whoever made the link."""
    return link.made_by.units if link.made_by is not None else Units("metric", "c")


def _cards(link: PersonalLink, **said: Any) -> list[EnclosureCard]:
    """Today's cards without what a link cannot do."""
    due_lists = gather(link.household, now())
    return [_card(due, _units(link), **said) for due in due_lists]


def _card(due: Due, units: Units, *, wrong: Any = None, of: int = 0) -> EnclosureCard:
    made = card(due, units, wrong=wrong if due.enclosure.pk == of else None)
    tasks = tuple(task for task in made.tasks if TASK_KINDS[task.kind].stood_in)
    return EnclosureCard(**{**vars(made), "tasks": tasks})


def _sitter_page(
    request: HttpRequest, link: PersonalLink, secret: str, *, said: str = "", **more: Any
) -> HttpResponse:
    cards = _cards(link, **more)
    context = {
        "link": link,
        "secret": secret,
        "cards": [one for one in cards if one.tasks or one.entries],
        "left": sum(len(one.tasks) for one in cards),
        "day": link.household.day_of(now()),
        "said": said,
    }
    return render(request, "people/sitter.html", context)


@opened_by(PersonalLink.Kind.SITTER)
@require_safe
def sitter(request: HttpRequest, link: PersonalLink, secret: str) -> HttpResponse:
    """Today's tasks and nothing else."""
    return _sitter_page(request, link, secret)


@opened_by(PersonalLink.Kind.SITTER)
@require_POST
def sitter_log(request: HttpRequest, link: PersonalLink, secret: str, *, pk: int) -> HttpResponse:
    """A task is done, refused, or left for a reason."""
    at = now()
    due = next(iter(gather(link.household, at, only=[pk])), None)
    if due is None:
        raise Http404
    posted = request.POST.dict()
    try:
        understood = understand(due, posted, _units(link), at)
    except WrongError as why:
        wrong = (posted.get("task", ""), str(why), posted)
        return _sitter_page(request, link, secret, wrong=wrong, of=pk)
    except NotDueError:
        return _sitter_page(request, link, secret, said="That was done already.")
    if not TASK_KINDS[understood.task.kind].stood_in:
        raise Http404

    def off_the_stock(written: LogEntry) -> None:
        wants = taken(understood.task, written.amount)
        stock.take(due.enclosure.household_id, written, wants, None, at)

    is_meal = understood.task.kind == "feed" and understood.log_request.outcome == "done"
    log_flows.write(
        due.enclosure,
        understood.animal,
        understood.log_request,
        keeper=None,
        by_name=link.name,
        now=at,
        also=off_the_stock if is_meal else None,
    )
    return redirect("people:sitter", secret=secret)


# --- animals that are shown ----------------------------------------------------------------------


@dataclass(frozen=True)
class ShownAnimal:
    """An animal as a viewer sees it."""

    animal: Animal
    kind: str
    age: str
    weights: tuple[tuple[dt.date, str], ...]
    meals: tuple[tuple[dt.date, str], ...]
    photos: tuple[int, ...]


def _shown(animal: Animal, link: PersonalLink, today: dt.date) -> ShownAnimal:
    units = _units(link)
    weights = sorted(animal.weighings.all(), key=lambda one: (one.on, one.pk), reverse=True)
    meals = (
        LogEntry.objects.standing()
        .filter(animal=animal, stem__startswith="feed ")
        .exclude(outcome=LogEntry.Outcome.SKIPPED)
        .select_related("by")
        .order_by("-on", "-at")[:SHOWN_MEALS]
    )
    zone = animal.household.time_zone
    photos = Picture.objects.of(link.household).photographs().ready().filter(animal=animal)
    return ShownAnimal(
        animal,
        profile_of(link.household, animal.species).name,
        wording.age(animal.born_on, today),
        tuple((one.on, show(one.mass_g, Kind.MASS, units)) for one in weights[:SHOWN_WEIGHTS]),
        tuple((entry.on, entry_view(entry, zone, units).text) for entry in meals),
        tuple(photos.values_list("pk", flat=True)[:4]),
    )


@opened_by(PersonalLink.Kind.VIEWER)
@require_safe
def shown(request: HttpRequest, link: PersonalLink, secret: str) -> HttpResponse:
    """Chosen animals, read only."""
    today = link.household.day_of(now())
    animals = link.animals.select_related("household").prefetch_related("weighings")
    rows = [_shown(animal, link, today) for animal in animals]
    return render(request, "people/shown.html", {"link": link, "secret": secret, "rows": rows})


@opened_by(PersonalLink.Kind.VIEWER)
@require_safe
def shown_photo(request: HttpRequest, link: PersonalLink, secret: str, *, pk: int) -> HttpResponse:
    """A photo of one of the animals that are shown."""
    pictures = (
        Picture.objects.of(link.household)
        .photographs()
        .ready()
        .filter(animal__in=link.animals.all())
    )
    picture = get_object_or_404(pictures, pk=pk)
    return HttpResponse(bytes(picture.small or b""), content_type="image/jpeg")
