"""Simulated devices send by the way of real ones; the demo's loggers are there and move with its dates."""

import datetime as dt

import numpy as np
import pytest
from django.core.management import CommandError, call_command

from husbandry.records.watch_devices import missed_run
from husbandry.simulation.loggers import Fault, SimulatedLoggers
from ridgeback.alarms.flows import watch_household
from ridgeback.clock import now
from ridgeback.demo.devices import devices_for
from ridgeback.demo.loggers import move_samples, tell_loggers
from ridgeback.devices.models import Device, ScaleWeight
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household
from ridgeback.records.models import Channel, HourSummary, Sample

HOUR_S = 3_600


def test_back_filled_and_sent_again_adds_nothing(household: Household) -> None:
    first = devices_for(household, now())
    end_s = int(now().timestamp())
    sent = [one.send(end_s - 86_400, end_s, step_s=600) for one in first]
    assert all(sent) and sum(sent) == Sample.objects.count()
    again = devices_for(household, now())
    assert [one.send(end_s - 86_400, end_s, step_s=600) for one in again] == [0] * len(again)
    assert Device.objects.count() == len(first), "the same devices"


def test_a_heater_that_sticks_raises_an_alarm(pip: Enclosure) -> None:
    device = next(one for one in devices_for(pip.household, now()) if one.enclosure == pip)
    end_s = int(now().timestamp())
    begin_s = end_s - 4 * HOUR_S
    fault = Fault("heater stuck", begin_s, end_s + HOUR_S, rise_k=25)
    device.send(end_s - 8 * 86_400, begin_s, step_s=600)
    device.send(begin_s, end_s, step_s=600, faults=(fault,))
    found = watch_household(pip.household, now())
    assert any(one.side == "high" and one.kind in {"limit", "soon", "unusual"} for one in found)


def test_the_same_hour_is_the_same_however_it_is_asked(pip: Enclosure) -> None:
    loggers = SimulatedLoggers(pip.request_at(now()), 3, "UTC")
    end_s = int(now().timestamp()) // HOUR_S * HOUR_S
    whole = loggers.log(end_s - 24 * HOUR_S, end_s)
    late = loggers.log(end_s - 6 * HOUR_S, end_s)
    for one, other in zip(whole, late, strict=True):
        if one.quantity == "mass":  # once a week
            continue
        own = one.values[-len(other.values) :]
        assert np.abs(own - other.values).max() < 0.11, "to the last digit that is shown"


@pytest.mark.parametrize("kind", ["silent", "power cut"])
def test_what_is_silent_sends_nothing(pip: Enclosure, kind: str) -> None:
    loggers = SimulatedLoggers(pip.request_at(now()), 3, "UTC")
    end_s = int(now().timestamp())
    fault = Fault(kind, end_s - 2 * HOUR_S, end_s + 1)  # type: ignore[arg-type]  # a literal
    for one in loggers.log(end_s - 4 * HOUR_S, end_s, faults=(fault,)):
        assert (one.at_s < fault.begin_s).all()


def test_the_demos_loggers_move_with_its_dates(household: Household) -> None:
    tell_loggers(household, now())
    channel = Channel.objects.of(household).order_by("pk")[0]
    before = list(channel.samples.order_by("at").values_list("at", "value"))
    move_samples(household, dt.timedelta(days=3))
    after = list(channel.samples.order_by("at").values_list("at", "value"))
    assert [(at + dt.timedelta(days=3), value) for at, value in before] == after
    count = sum(HourSummary.objects.filter(channel=channel).values_list("count", flat=True))
    assert count == len(after) > 3_000


def test_the_command_says_what_is_wrong(household: Household) -> None:
    with pytest.raises(CommandError, match="no such household"):
        call_command("simulate", "--household", "999999")
    household.visit_ends = now() + dt.timedelta(days=1)
    household.save()
    with pytest.raises(CommandError, match="1 to 120"):
        call_command("simulate", "--days", "0")
    call_command("simulate", "--days", "1", "--household", str(household.pk))
    assert Sample.objects.exists()


def test_a_uv_meter_shows_nothing_in_the_dark_or_under_a_lamp_that_is_out(pip: Enclosure) -> None:
    loggers = SimulatedLoggers(pip.request_at(now()), 3, "UTC")
    end_s = int(now().timestamp()) // 86_400 * 86_400
    fault = Fault("lamp failed", end_s - 86_400, end_s + 1)
    days = [loggers.log(end_s - 86_400, end_s, faults=one) for one in ((), (fault,))]
    lit, out = (next(one for one in day if one.quantity == "uvi").values for day in days)
    assert lit.min() == 0 and lit.max() > 1, "dark at night"
    assert out.max() == 0


def test_the_devices_of_an_enclosure_tell_of_themselves(household: Household) -> None:
    """A thermostat its state, a scale its weights; each is there and can be seen."""
    end_s = int(now().timestamp())
    for one in devices_for(household, now()):
        one.send(end_s - 8 * 86_400, end_s, step_s=1800)
    kinds = set(Channel.objects.of(household).values_list("quantity", flat=True))
    assert {"heating", "mass", "power", "temperature"} <= kinds
    states = Sample.objects.filter(channel__quantity="heating").values_list("value", flat=True)
    assert min(states) == 0 and 0 < max(states) <= 1
    weights = ScaleWeight.objects.of(household)
    assert weights.exists()
    of_devices = {"misting", "runs on", "full", "no draw", "silent"}
    told = {one.kind for one in watch_household(household, now())}
    assert not told & of_devices, "no device says that anything is wrong with it"


def test_a_pump_that_fails_is_told_by_its_plug(household: Household) -> None:
    enclosure = next(
        one
        for one in Enclosure.objects.of(household).in_use().for_planning()
        if one.present
        and (wetting := one.request_at(now()).enclosure.wetting)
        and wetting.mistings
    )
    request = enclosure.request_at(now())
    assert request.enclosure.wetting is not None
    wetting = request.enclosure.wetting.model_copy(update={"nozzles_ml_s": 2.0})
    spec = request.enclosure.model_copy(update={"wetting": wetting})
    loggers = SimulatedLoggers(request.model_copy(update={"enclosure": spec}), 3, "UTC")
    end_s = int(now().timestamp()) // 86_400 * 86_400 + 12 * HOUR_S
    fault = Fault("pump failed", end_s - 20 * HOUR_S, end_s + HOUR_S)
    usual, failed = (
        {
            (one.quantity, one.place): one
            for one in loggers.log(end_s - 6 * 86_400, end_s, faults=f)
        }
        for f in ((), (fault,))
    )
    at = ("power", "pump")
    assert missed_run(usual[at].at_s, usual[at].values, "UTC") is None
    assert missed_run(failed[at].at_s, failed[at].values, "UTC") is not None
    damp = ("humidity", "cool")
    assert failed[damp].values[-1] < usual[damp].values[-1] - 2, "it dries"
