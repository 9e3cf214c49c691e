"""A mat under substrate by finite volumes: steady conduction in three dimensions, solved by scipy.

An independent reference: other discretisation, films of its own, nothing of the core's network.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.linalg import spsolve

TOP_FILM_W_M2K = 10.5
"""Natural convection of a warm plate and radiation, together (handbook, from memory)."""
BASE_FILM_M2K_W = 0.17
"""Below a floor (ISO 6946, from memory)."""
CELL_M = 0.01


@dataclass(frozen=True)
class MatCase:
    """A mat in the middle of a floor, with air of one temperature above and the room below."""

    power_w: float
    mat_m: tuple[float, float]
    floor_m: tuple[float, float]
    depth_m: float
    substrate_w_mk: float
    panel_m: float
    panel_w_mk: float
    air_c: float
    room_c: float


def temperatures(case: MatCase) -> tuple[float, float]:
    """The warmest of the surface over 5 cm, and of the mat [°C]."""
    nx, ny = (round(side / CELL_M) for side in case.floor_m)
    panel_layers, soil_layers = 2, max(2, round(case.depth_m / 0.01))
    thick = np.array(
        [case.panel_m / panel_layers] * panel_layers + [case.depth_m / soil_layers] * soil_layers
    )
    k = np.array([case.panel_w_mk] * panel_layers + [case.substrate_w_mk] * soil_layers)
    nz = len(thick)
    number = np.arange(nx * ny * nz).reshape(nx, ny, nz)
    rows: list[Any] = []
    columns: list[Any] = []
    values: list[Any] = []
    own, heat = np.zeros(number.size), np.zeros(number.size)

    def link(one: Any, other: Any, g: Any) -> None:
        rows.extend((one, other))
        columns.extend((other, one))
        values.extend((-g, -g))
        np.add.at(own, one, g)
        np.add.at(own, other, g)

    side = np.broadcast_to(k * thick, (nx, ny, nz))  # k · (cell × thick) / cell
    link(number[1:].ravel(), number[:-1].ravel(), side[1:].ravel())
    link(number[:, 1:].ravel(), number[:, :-1].ravel(), side[:, 1:].ravel())
    for z in range(nz - 1):
        g = CELL_M**2 / (thick[z] / k[z] / 2 + thick[z + 1] / k[z + 1] / 2)
        link(number[..., z].ravel(), number[..., z + 1].ravel(), np.full(nx * ny, g))
    top = CELL_M**2 / (thick[-1] / k[-1] / 2 + 1 / TOP_FILM_W_M2K)
    base = CELL_M**2 / (thick[0] / k[0] / 2 + BASE_FILM_M2K_W)
    own[number[..., -1]] += top
    heat[number[..., -1]] += top * case.air_c
    own[number[..., 0]] += base
    heat[number[..., 0]] += base * case.room_c

    mx, my = (round(side / CELL_M) for side in case.mat_m)
    x0, y0 = (nx - mx) // 2, (ny - my) // 2
    under = number[x0 : x0 + mx, y0 : y0 + my, panel_layers - 1].ravel()
    over = number[x0 : x0 + mx, y0 : y0 + my, panel_layers].ravel()
    # The source lies in the plane between two cells: eliminated, it is shared by their halves.
    up = 1 / (thick[panel_layers] / k[panel_layers] / 2)
    down = 1 / (thick[panel_layers - 1] / k[panel_layers - 1] / 2)
    each = case.power_w / (mx * my)
    heat[over] += each * up / (up + down)
    heat[under] += each * down / (up + down)

    everywhere = np.arange(number.size)
    matrix = coo_matrix(
        (
            np.concatenate([*values, own]),
            (np.concatenate([*rows, everywhere]), np.concatenate([*columns, everywhere])),
        )
    ).tocsr()
    found = spsolve(matrix, heat).reshape(nx, ny, nz)
    film = thick[-1] / k[-1] / 2
    flux = (found[..., -1] - case.air_c) / (film + 1 / TOP_FILM_W_M2K)
    face = found[..., -1] - flux * film
    cx, cy = nx // 2, ny // 2
    spot = face[cx - 2 : cx + 3, cy - 2 : cy + 3].mean()
    t_over, t_under = found[cx, cy, panel_layers], found[cx, cy, panel_layers - 1]
    mat = (each / CELL_M**2 + up * t_over + down * t_under) / (up + down)
    return float(spot), float(mat)
