"""Copy the shipped front-end files out of node_modules, with licences, versions and checksums.

Run by bin/vendor.
"""

import hashlib
import json
import re
import shutil
from pathlib import Path

HERE = Path(__file__).parent
MODULES = HERE / "node_modules"
TARGET = HERE.parent / "ridgeback" / "static" / "vendor"

FILES = {
    "htmx.org": ["dist/htmx.min.js"],
    "@alpinejs/csp": ["dist/cdn.min.js"],
    "bootstrap": [
        "dist/css/bootstrap-reboot.min.css",
        "dist/css/bootstrap-grid.min.css",
        "dist/css/bootstrap-utilities.min.css",
    ],
    "@fontsource-variable/atkinson-hyperlegible-next": [
        "files/atkinson-hyperlegible-next-latin-wght-normal.woff2",
        "files/atkinson-hyperlegible-next-latin-ext-wght-normal.woff2",
    ],
    "@fontsource-variable/bricolage-grotesque": [
        "files/bricolage-grotesque-latin-wght-normal.woff2",
        "files/bricolage-grotesque-latin-ext-wght-normal.woff2",
    ],
}
RENAMED = {"@alpinejs/csp/dist/cdn.min.js": "alpine-csp.min.js"}
LICENCE_NAMES = ("LICENSE", "LICENSE.md", "LICENCE")
# The CSP build of Alpine and htmx carry their licence in package.json only.
SPDX_TEXT = {"MIT": "MIT License", "0BSD": "Zero-Clause BSD"}
ICONS = ["check", "moon", "sun", "undo-2", "ruler", "thermometer", "log-out"]


def main() -> None:
    shutil.rmtree(TARGET, ignore_errors=True)
    TARGET.mkdir(parents=True)
    rows = []
    for package, names in FILES.items():
        meta = json.loads((MODULES / package / "package.json").read_text())
        licence = next((p for n in LICENCE_NAMES if (p := MODULES / package / n).exists()), None)
        slug = package.replace("@", "").replace("/", "-")
        if licence is not None:
            shutil.copy(licence, TARGET / f"{slug}.LICENSE.txt")
        else:
            text = (
                f"{package} {meta['version']}\n{SPDX_TEXT[meta['license']]} (as named in its"
                " package.json)\n"
            )
            (TARGET / f"{slug}.LICENSE.txt").write_text(text)
        for name in names:
            target = TARGET / RENAMED.get(f"{package}/{name}", Path(name).name)
            data = (MODULES / package / name).read_bytes()
            if target.suffix in {
                ".css",
                ".js",
            }:  # the maps are not shipped, so the browser must not ask for them
                data = re.sub(rb"\n?(//|/\*)# sourceMappingURL=[^\n]*", b"", data)
            target.write_bytes(data)
            rows.append(
                [
                    target.name,
                    package,
                    meta["version"],
                    meta["license"],
                    hashlib.sha256(data).hexdigest(),
                ]
            )
    sprite, meta = icon_sprite()
    (TARGET / "icons.svg").write_text(sprite)
    rows.append(
        [
            "icons.svg",
            "lucide-static",
            meta["version"],
            meta["license"],
            hashlib.sha256(sprite.encode()).hexdigest(),
        ]
    )
    shutil.copy(MODULES / "lucide-static" / "LICENSE", TARGET / "lucide-static.LICENSE.txt")
    body = [
        dict(zip(("file", "package", "version", "licence", "sha256"), row, strict=True))
        for row in sorted(rows)
    ]
    (TARGET / "manifest.json").write_text(json.dumps(body, indent=1) + "\n")
    print(f"{len(rows)} files in {TARGET}")


def icon_sprite() -> tuple[str, dict[str, str]]:
    """One small sprite of the icons in use; the package's whole set is half a megabyte."""
    folder = MODULES / "lucide-static"
    parts = []
    for name in ICONS:
        svg = (folder / "icons" / f"{name}.svg").read_text()
        inner = svg[svg.index(">", svg.index("<svg")) + 1 : svg.rindex("</svg>")]
        parts.append(f'<symbol id="{name}" viewBox="0 0 24 24">{" ".join(inner.split())}</symbol>')
    return f'<svg xmlns="http://www.w3.org/2000/svg">{"".join(parts)}</svg>\n', json.loads(
        (folder / "package.json").read_text()
    )


if __name__ == "__main__":
    main()
