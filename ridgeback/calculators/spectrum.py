"""The spectrum of a lamp, from a file or pasted: UV index, vitamin D3, hazard, beside the sun.
Nothing of it is kept.
"""

from typing import Any

from django import forms
from django.http import HttpResponse
from django.shortcuts import render
from django.utils.safestring import mark_safe

from husbandry.climate.spectra import SPECTRAL_UNITS, SpectrumFound, look_over, read_spectrum, sun
from husbandry.errors import DocumentError
from ridgeback.derivations import derivation_view
from ridgeback.drawing.spectrum import chart
from ridgeback.drawing.svg import write
from ridgeback.households.middleware import KeeperRequest

MOST_PASTED = 200_000


class SpectrumForm(forms.Form):
    """Two columns, as a file or as text. `found` holds what they say."""

    file = forms.FileField(
        label="File with two columns",
        required=False,
        widget=forms.FileInput(attrs={"accept": ".csv,.txt,.tsv,text/*"}),
    )
    pasted = forms.CharField(
        label="or paste them",
        required=False,
        max_length=MOST_PASTED,
        widget=forms.Textarea(attrs={"rows": 6, "placeholder": "280, 0.0001\n281, 0.0002"}),
    )
    unit = forms.ChoiceField(
        label="Unit of the second column", choices=[(name, name) for name in SPECTRAL_UNITS]
    )

    def __init__(self, *args: Any, too_large: bool = False, **kwargs: Any) -> None:
        self.found: SpectrumFound | None = None
        self.problems: list[str] = []
        self.too_large = too_large
        super().__init__(*args, **kwargs)

    def clean(self) -> dict[str, Any]:
        """Read by the core, whose findings name the lines."""
        cleaned = super().clean() or {}
        field = "file" if cleaned.get("file") else "pasted"
        if self.too_large:
            self.add_error("file", "This file is larger than any spectrum is.")
            return cleaned
        if self.errors:
            return cleaned
        try:
            text = (
                cleaned["file"].read().decode("utf-8-sig")
                if field == "file"
                else cleaned.get("pasted", "")
            )
        except UnicodeDecodeError:
            self.add_error("file", "This is not UTF-8 text.")
            return cleaned
        if not text.strip():
            self.add_error("file", "Choose a file, or paste two columns.")
            return cleaned
        try:
            self.found = look_over(read_spectrum(text, cleaned["unit"]))
        except DocumentError as why:
            self.problems = [
                f"{p.pointer + ': ' if p.pointer else ''}{p.reason}"[:300] for p in why.problems
            ]
            self.add_error(field, "This is not a spectrum that can be judged.")
        return cleaned


def spectrum(request: KeeperRequest) -> HttpResponse:
    """Judge a spectrum."""
    context: dict[str, Any] = {}
    if request.method == "POST":
        form = SpectrumForm(
            request.POST, request.FILES, too_large=bool(request.META.get("ridgeback.too_large"))
        )
        if form.is_valid() and form.found is not None:
            found = form.found
            reference = sun()
            shown = chart(
                found, list(zip(reference.nm.tolist(), reference.w_m2nm.tolist(), strict=True))
            )
            context = {
                "found": found,
                "chart": mark_safe(write(shown)),  # our own writer escapes
                "uvi": derivation_view(found.uvi, request.units),
                "d3": derivation_view(found.d3_w_m2, request.units),
                "rows": _rows(found),
            }
    else:
        form = SpectrumForm()
    return render(request, "calculators/spectrum.html", {"form": form, **context})


def _rows(found: SpectrumFound) -> list[tuple[str, str, str]]:
    """What is told, of the lamp, of the sun."""
    return [
        ("UVC, below 280 nm", f"{found.uvc_w_m2 * 1000:.2f} mW/m²", "none"),
        ("UVB, 280 to 315 nm", f"{found.uvb_w_m2 * 1000:.0f} mW/m²", ""),
        (
            "UVB, 280 to 320 nm, as many meters have it",
            f"{found.uvb_320_w_m2 * 1000:.0f} mW/m²",
            "",
        ),
        ("UVA, 315 to 400 nm", f"{found.uva_w_m2 * 1000:.0f} mW/m²", ""),
        (
            "of what burns, below 290 nm",
            f"{found.short_share:.1%}",
            f"{found.sun['short_share']:.1%}",
        ),
        (
            "actinic over erythemal",
            f"{found.actinic_ratio:.2f}",
            f"{found.sun['actinic_ratio']:.2f}",
        ),
        ("for vitamin D3 over erythemal", f"{found.d3_ratio:.2f}", f"{found.sun['d3_ratio']:.2f}"),
        (
            "UVB per UV index",
            f"{found.uvb_per_uvi_uw_cm2:.1f} µW/cm²",
            f"{found.sun['uvb_per_uvi_uw_cm2']:.1f} µW/cm²",
        ),
    ]
