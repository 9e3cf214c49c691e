"""`python -m husbandry spectrum`."""

import json
from pathlib import Path

import pytest

from husbandry.cli import main
from husbandry.climate.spectra import sun


def test_a_spectrum_is_judged_on_the_command_line(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "sun.csv"
    file.write_text(
        "\n".join(f"{nm:g};{value:.6g}" for nm, value in zip(sun().nm, sun().w_m2nm, strict=True))
    )
    assert main(["spectrum", str(file)]) == 0
    found = json.loads(capsys.readouterr().out)
    assert abs(found["uvi"]["value"] - 3.69) < 0.05 and found["signs"] == []
    file.write_text("nothing here")
    assert main(["spectrum", str(file)]) == 2 and "0 rows" in capsys.readouterr().err
    assert (
        main(["spectrum", str(tmp_path / "none.csv")]) == 2
        and "cannot be read" in capsys.readouterr().err
    )


def test_a_file_too_large_is_refused_before_it_is_read(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    large = tmp_path / "large.csv"
    large.write_bytes(b"1" * 5_000_001)
    assert (
        main(["spectrum", str(large)]) == 2 and "larger than anything" in capsys.readouterr().err
    )
    assert main(["plan", str(large)]) == 2 and "larger than anything" in capsys.readouterr().err
