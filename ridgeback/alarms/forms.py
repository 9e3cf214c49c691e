"""Forms of alarms: what somebody answers, and what they prefer."""

from django import forms

from ridgeback.alarms.models import AlarmPreferences

HOURS = [(hour, f"{hour:02}:00") for hour in range(24)]
SNOOZES = ((30, "30 minutes"), (60, "an hour"), (240, "4 hours"), (720, "12 hours"))
SILENCES = ((60, "an hour"), (240, "4 hours"), (1440, "a day"), (10_080, "a week"))


class AcknowledgeForm(forms.Form):
    """Somebody has it in hand."""

    note = forms.CharField(label="What you do", max_length=300, required=False)


class SnoozeForm(forms.Form):
    """Say it again later."""

    minutes = forms.TypedChoiceField(label="Say it again in", choices=SNOOZES, coerce=int)
    reason = forms.CharField(
        label="Why",
        max_length=300,
        error_messages={"required": "Say why: whoever comes after you reads it."},
    )


class SilenceForm(forms.Form):
    """No alarms of a channel, such as while it is cleaned."""

    minutes = forms.TypedChoiceField(label="No alarms for", choices=SILENCES, coerce=int)
    reason = forms.CharField(
        label="Why", max_length=200, error_messages={"required": "Say why, such as “cleaned”."}
    )


class AlarmPreferencesForm(forms.ModelForm):
    """Alarms by mail, and the hours in which what can wait is held back."""

    quiet_from = forms.TypedChoiceField(
        label="Hold back what can wait from", choices=HOURS, coerce=int
    )
    quiet_to = forms.TypedChoiceField(label="until", choices=HOURS, coerce=int)

    class Meta:
        model = AlarmPreferences
        fields = ["by_mail", "quiet_from", "quiet_to"]
        labels = {"by_mail": "Mail me alarms of this household"}
