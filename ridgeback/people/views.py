"""The household's people: who is in, who is invited, whose link is open; and coming in."""

from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_http_methods, require_POST

from ridgeback.clock import now
from ridgeback.households import slow_down
from ridgeback.households.middleware import CHOSEN, KeeperRequest, memberships_of
from ridgeback.households.models import Household, Membership
from ridgeback.people import flows
from ridgeback.people.forms import InviteForm, LinkForm, RoleForm
from ridgeback.people.models import Invitation, PersonalLink
from ridgeback.posting import posted_key
from ridgeback.submissions.flows import sent_once

LINKS_MOST, INVITED_MOST = 30, 30
"""Open links, and open invitations, of a household at the most (design choice)."""
GUESSED = "an invitation's code"
"""Under which wrong codes are counted, by source."""


def _household(request: KeeperRequest) -> Household:
    if request.household is None:
        raise Http404
    return request.household


def _page(
    request: KeeperRequest,
    household: Household,
    *,
    invite: InviteForm | None = None,
    link: LinkForm | None = None,
    role: tuple[int, RoleForm] | None = None,
    shown: dict[str, str] | None = None,
) -> HttpResponse:
    """The page, with a form that was filled in wrongly, or with what is shown once."""
    at = now()
    today = household.day_of(at)
    members = household.memberships.select_related("keeper").order_by("pk")
    rows = []
    for member in members:
        initial = {
            "role": member.role,
            "from_on": member.from_on or today,
            "until_on": member.until_on,
        }
        form = RoleForm(initial=initial, today=today, auto_id=f"role-{member.pk}-%s")
        tried = role is not None and role[0] == member.pk
        rows.append((member, role[1] if role is not None and tried else form, tried))
    context = {
        "household": household,
        "rows": rows,
        "invitations": Invitation.objects.of(household).open_at(at),
        "links": [
            (one, one.is_open(today)) for one in PersonalLink.objects.of(household)[:LINKS_MOST]
        ],
        "invite": invite or InviteForm(own=request.user.email, today=today),
        "link": link or LinkForm(household=household, today=today),
        "shown": shown,
    }
    return render(request, "people/people.html", context)


@never_cache
def people(request: KeeperRequest) -> HttpResponse:
    """Who is in, who is invited, and whose link is open."""
    return _page(request, _household(request))


@never_cache
@require_POST
def invite(request: KeeperRequest) -> HttpResponse:
    """Invite somebody: by email, or by a link and a code that are shown once."""
    household = _household(request)
    at = now()
    form = InviteForm(request.POST, own=request.user.email, today=household.day_of(at))
    if form.is_valid() and Invitation.objects.of(household).open_at(at).count() >= INVITED_MOST:
        form.add_error(None, f"{INVITED_MOST} invitations are open: revoke one first.")
    if form.is_valid() and form.cleaned_data["email"] and household.visit_ends is not None:
        form.add_error("email", "The demo sends no email: leave it empty.")
    if not form.is_valid():
        return _page(request, household, invite=form)
    cleaned = form.cleaned_data
    with sent_once(household.pk, cleaned["form_key"]) as first:
        if not first:
            return redirect("people:people")
        made, code = flows.invite(
            household,
            cleaned["role"],
            keeper=request.user,
            now=at,
            email=cleaned["email"],
            days=form.days(),
        )
    address = request.build_absolute_uri(reverse("people:join", args=[code]))
    if made.email and flows.send_invitation(made, address):
        messages.success(request, f"An invitation was sent to {made.email}.")
        return redirect("people:people")
    if made.email:
        messages.warning(request, "The email could not be sent: hand the link on yourself.")
    shown = {"title": "The invitation", "address": address, "code": code}
    return _page(request, household, shown=shown)


@require_POST
def revoke(request: KeeperRequest) -> HttpResponse:
    """Take an invitation back."""
    rows = Invitation.objects.of(_household(request))
    flows.revoke(get_object_or_404(rows, pk=posted_key(request, "invitation")), now=now())
    messages.success(request, "The invitation is revoked.")
    return redirect("people:people")


def _member(request: KeeperRequest) -> Membership:
    rows = _household(request).memberships.select_related("keeper", "household")
    return get_object_or_404(rows, pk=posted_key(request, "member"))


@require_POST
def change_role(request: KeeperRequest) -> HttpResponse:
    """Give a member another role; hand the household over."""
    household = _household(request)
    member = _member(request)
    form = RoleForm(request.POST, today=household.day_of(now()), auto_id=f"role-{member.pk}-%s")
    if not form.is_valid():
        return _page(request, household, role=(member.pk, form))
    try:
        flows.change_role(member, form.cleaned_data["role"], form.days())
    except flows.PeopleError as why:
        form.add_error("role", str(why))
        return _page(request, household, role=(member.pk, form))
    messages.success(request, "Saved.")
    return redirect("people:people" if member.keeper != request.user else "enclosures:list")


@require_POST
def remove(request: KeeperRequest) -> HttpResponse:
    """Take a member out of the household."""
    member = _member(request)
    name = member.keeper.first_name or member.keeper.username
    try:
        flows.remove(member)
    except flows.PeopleError as why:
        messages.error(request, str(why))
    else:
        messages.success(request, f"{name} is out. What was logged stays.")
    return redirect("people:people" if member.keeper != request.user else "enclosures:list")


@require_POST
def leave(request: KeeperRequest) -> HttpResponse:
    """Leave a household oneself."""
    household = _household(request)
    member = get_object_or_404(household.memberships, keeper=request.user)
    try:
        flows.remove(member)
    except flows.PeopleError as why:
        messages.error(request, str(why))
        return redirect("households:household")
    messages.success(request, f"You left {household.name}.")
    return redirect("enclosures:list")


@never_cache
@require_POST
def add_link(request: KeeperRequest) -> HttpResponse:
    """Make a personal link; it is shown once."""
    household = _household(request)
    at = now()
    form = LinkForm(request.POST, household=household, today=household.day_of(at))
    today = household.day_of(at)
    open_links = PersonalLink.objects.of(household).filter(
        revoked_at__isnull=True, until_on__gte=today
    )
    if form.is_valid() and open_links.count() >= LINKS_MOST:
        form.add_error(None, f"{LINKS_MOST} links are open: close one first.")
    days = form.days() if form.is_valid() else None
    if days is None:
        return _page(request, household, link=form)
    cleaned = form.cleaned_data
    with sent_once(household.pk, cleaned["form_key"]) as first:
        if not first:
            return redirect("people:people")
        made, secret = flows.add_link(
            household,
            cleaned["kind"],
            cleaned["name"],
            days,
            animals=form.chosen(),
            keeper=request.user,
            now=at,
        )
    view = "people:sitter" if made.kind == PersonalLink.Kind.SITTER else "people:shown"
    address = request.build_absolute_uri(reverse(view, args=[secret]))
    shown = {"title": f"The link of {made.name}", "address": address}
    return _page(request, household, shown=shown)


@require_POST
def revoke_link(request: KeeperRequest) -> HttpResponse:
    """Close a personal link at once."""
    rows = PersonalLink.objects.of(_household(request))
    flows.revoke_link(get_object_or_404(rows, pk=posted_key(request, "link")), now=now())
    messages.success(request, "The link is closed.")
    return redirect("people:people")


@require_POST
def switch(request: KeeperRequest) -> HttpResponse:
    """Go to another of one's households."""
    chosen = posted_key(request, "household")
    if any(one.household_id == chosen for one in memberships_of(request.user)):
        request.session[CHOSEN] = chosen
    return redirect("enclosures:list")


# --- coming in -----------------------------------------------------------------------------------


@never_cache
@require_http_methods(["GET", "HEAD", "POST"])
def join(request: KeeperRequest, code: str = "") -> HttpResponse:
    """Come in by an invitation: its link, or its code typed by hand."""
    source = request.META.get("REMOTE_ADDR", "")
    code = code or request.POST.get("code", "")[:40]
    context: dict[str, Any] = {"code": code, "error": ""}
    if not code:
        return render(request, "people/join.html", context)
    wait_s = slow_down.seconds_to_wait(GUESSED, source)
    if wait_s:
        context["error"] = f"Too many wrong codes from here. Wait {wait_s} seconds."
        return render(request, "people/join.html", context, status=429)
    invitation = flows.find_invitation(code)
    if invitation is None:
        slow_down.note_wrong(GUESSED, source)
        context["error"] = "There is no such invitation. Look at the code again."
        return render(request, "people/join.html", context, status=404)
    context["invitation"] = invitation
    context["error"] = flows.why_closed(invitation, request.user, now())
    if request.method == "POST" and "sure" in request.POST and not context["error"]:
        try:
            made = flows.join(invitation, request.user, now=now())
        except flows.PeopleError as why:
            context["error"] = str(why)
            return render(request, "people/join.html", context)
        with transaction.atomic():
            request.session[CHOSEN] = made.household_id
        messages.success(request, f"You are in {made.household.name}.")
        is_sitter = made.role == Membership.Role.SITTER
        return redirect("today:page" if is_sitter else "enclosures:list")
    return render(request, "people/join.html", context)
