"""A mixed-integer linear programme as it is built up, solved by HiGHS through scipy.

A limit of nodes, not of seconds, so that an answer does not depend on the machine. Method:
docs/methods/setup-solver.md.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import Bounds, LinearConstraint, linprog, milp
from scipy.sparse import coo_matrix, vstack

Array = NDArray[np.float64]
GAP, NODES_MOST = 0.08, 200
"""How near to the best is enough, and after how many nodes a search ends (design choice) [1]."""
PROMISING, GAP_PROMISING, GAP_COST = 40, 0.15, 1000.0
"""Whole variables that are tried first, those with the least reduced cost, and how near to the
relaxed bound they have to come: as a share of the cost, and however large that is (design choice)
[1, 1, cost].
"""
TAKEN = 1e-9
"""More of a variable than this is a part of it (design choice) [1]."""
SECONDS_MOST = 20.0
"""A stop for what should not happen (design choice) [s]."""


@dataclass(frozen=True)
class Solution:
    """Values of the variables, and their cost."""

    values: Array
    cost: float


@dataclass(frozen=True)
class RelaxedSolution(Solution):
    """A solution in which whole variables may be fractions."""

    reduced: Array
    """What a unit more of each variable would cost (reduced cost)."""


class MixedInteger:
    """Variables, rows and costs as they are added."""

    def __init__(self) -> None:
        self.cost: list[float] = []
        self.low: list[float] = []
        self.high: list[float] = []
        self.whole: list[bool] = []
        self.rows: list[tuple[dict[int, float], float, float]] = []

    def variable(self, cost: float, low: float, high: float, *, whole: bool = False) -> int:
        """Add a variable and return its number."""
        self.cost.append(cost)
        self.low.append(low)
        self.high.append(high)
        self.whole.append(whole)
        return len(self.cost) - 1

    def row(self, terms: dict[int, float], low: float, high: float) -> None:
        """Add low ≤ terms ≤ high."""
        self.rows.append((terms, low, high))

    def relaxed(self) -> RelaxedSolution | None:
        """The best with fractions of whole variables; None where nothing is feasible.

        A bound that is not kept here is kept by no choice of whole ones.
        """
        matrix, low, high = self._table()
        below = np.isfinite(high)
        above = np.isfinite(low)
        rows: Any = vstack([matrix[below], -matrix[above]])
        found: Any = linprog(
            np.array(self.cost),
            A_ub=rows,
            b_ub=np.concatenate([high[below], -low[above]]),
            bounds=np.column_stack([self.low, self.high]).tolist(),
        )
        if found.x is None:
            return None

        return RelaxedSolution(found.x, float(found.fun), found.lower.marginals)

    def solve(self, relaxed: RelaxedSolution, *, rough: bool = False) -> Solution | None:
        """The best, with what is whole whole; None where nothing is feasible.

        A rough answer need not come near the bound: it may cost as much more as a little miss.

        Variables that the relaxed solution finds dear are left out at first: where the rest comes
        near its bound, they could not have mattered. One whose reduced cost is more than what the first
        answer lies above the bound is in no better answer, and stays out for good.
        """
        whole = np.array(self.whole)
        dear = np.where(relaxed.values > TAKEN, -np.inf, relaxed.reduced)
        ranked = np.argsort(np.where(whole, dear, np.inf), kind="stable")
        promising = ~whole
        promising[ranked[:PROMISING]] = True
        table = self._table()
        found = self._best(promising, table)
        if found is not None:
            near = GAP_COST if rough else min(GAP_PROMISING * found.cost, GAP_COST)
            above = found.cost - relaxed.cost
            if above <= near:
                return found
            useful = ~whole | (dear <= above)
            if not (useful & ~promising).any():
                return found
            return self._best(useful, table)

        return self._best(np.full(whole.shape, True), table)

    def _best(
        self, allowed: NDArray[np.bool_], table: tuple[Any, Array, Array]
    ) -> Solution | None:
        """The best of the variables that are allowed."""
        matrix, low, high = table
        found = milp(
            np.array(self.cost),
            integrality=np.array(self.whole),
            bounds=Bounds(np.array(self.low), np.where(allowed, self.high, 0.0)),
            constraints=LinearConstraint(matrix, low, high),
            options={"mip_rel_gap": GAP, "node_limit": NODES_MOST, "time_limit": SECONDS_MOST},
        )

        return None if found.x is None else Solution(found.x, float(found.fun))

    def _table(self) -> tuple[Any, Array, Array]:
        """The rows as a sparse matrix, with their bounds."""
        cells = [(a, r, v) for r, (terms, _, _) in enumerate(self.rows) for v, a in terms.items()]
        table = np.array(cells, dtype=float)
        places = (table[:, 1].astype(int), table[:, 2].astype(int))
        matrix = coo_matrix((table[:, 0], places), shape=(len(self.rows), len(self.cost)))
        low, high = (np.array([row[end] for row in self.rows]) for end in (1, 2))
        return matrix.tocsr(), low, high
