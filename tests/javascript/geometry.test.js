import assert from "node:assert/strict";
import test from "node:test";

import { bilinear } from "../../ridgeback/static/js/field.js";
import {
  keepInside,
  reach,
  snap,
  substrateAt,
  twinOf,
} from "../../ridgeback/static/js/layout/geometry.js";

const enclosure = {
  inside_m: { length: 1.2, depth: 0.6, height: 0.6 },
  substrate: { depth_m: 0.05 },
};
const slab = () => ({ id: "slab-1", kind: "slab", at_m: [0.3, 0.3, 0.05], size_m: [0.3, 0.2, 0.03] });
const lamp = () => ({ id: "lamp-1", kind: "halogen_flood", at_m: [0.3, 0.3, 0.4], power_w: 75 });

test("an item reaches half its size, a tube half its length, a lamp nothing", () => {
  assert.equal(reach(slab(), 0), 0.15);
  assert.equal(reach(slab(), 1), 0.1);
  assert.equal(reach({ length_m: 0.8 }, 0), 0.4);
  assert.equal(reach({ length_m: 0.8 }, 1), 0);
  assert.equal(reach(lamp(), 0), 0);
});

test("level substrate is as deep everywhere, sloping substrate is deepest on its side", () => {
  assert.equal(substrateAt(slab(), enclosure), 0.05);
  const sloping = { ...enclosure, substrate: { depth_m: 0.1, slope: { rise_m: 0.04, deep_at: "left" } } };
  assert.equal(substrateAt({ at_m: [0, 0.3, 0] }, sloping), 0.14);
  assert.equal(substrateAt({ at_m: [0.6, 0.3, 0] }, sloping), 0.1);
  assert.equal(substrateAt({ at_m: [1.2, 0.3, 0] }, sloping), 0.06);
  sloping.substrate.slope.deep_at = "right";
  assert.equal(substrateAt({ at_m: [1.2, 0.3, 0] }, sloping), 0.14);
  sloping.substrate.slope.deep_at = "back";
  assert.equal(substrateAt({ at_m: [0.6, 0.6, 0] }, sloping), 0.14);
});

test("what is dragged out of the enclosure stays inside, on the substrate", () => {
  const item = slab();
  item.at_m = [5, -1, 0];
  keepInside(item, enclosure);
  assert.deepEqual(item.at_m, [1.05, 0.1, 0.05]);
});

test("each kind has its heights", () => {
  const heights = (kind, height, more = {}) => {
    const item = { id: "x", kind, at_m: [0.6, 0.3, height], ...more };
    keepInside(item, enclosure);
    return item.at_m[2];
  };
  assert.equal(heights("heat_mat", 0.3, { size_m: [0.28, 0.28, 0.002] }), 0);
  assert.equal(heights("probe", 0), 0.05);
  assert.equal(heights("probe", 2), 0.59);
  assert.equal(heights("halogen_flood", 0), 0.08);
  assert.equal(heights("halogen_flood", 2), 0.59);
  assert.equal(heights("halogen_flood", 0.2, { above_lid: true }), 0.61);
  assert.equal(heights("halogen_flood", 9, { above_lid: true }), 1.2);
  assert.equal(heights("hide", 0.4, { size_m: [0.2, 0.2, 0.1] }), 0.05);
  assert.equal(heights("branch", 0.4, { size_m: [0.4, 0.05, 0.05] }), 0.4);
  assert.equal(heights("branch", 0.9, { size_m: [0.4, 0.05, 0.05] }), 0.55);
  assert.equal(heights("pool", 0.4, { size_m: [0.3, 0.3, 0.1] }), 0.05);
});

test("an item longer than the enclosure stands in its middle", () => {
  const item = { id: "b", kind: "branch", at_m: [0, 0.3, 0.2], size_m: [2, 0.05, 0.05] };
  keepInside(item, enclosure);
  assert.equal(item.at_m[0], 0.6);
});

test("a place snaps to whole steps, and to walls, neighbours and tops of slabs", () => {
  const items = [slab(), lamp()];
  const state = { enclosure, items };
  assert.equal(snap(items[1], 0, 0.437, state, 0.01), 0.44);
  assert.equal(snap(items[1], 0, 0.309, state, 0.01), 0.3, "the middle of the slab");
  assert.equal(snap(items[0], 0, 0.16, state, 0.01), 0.15, "the wall");
  assert.equal(snap(items[1], 2, 0.565, state, 0.01), 0.57, "under the lid");
  const probe = { id: "probe-1", kind: "probe", at_m: [0.3, 0.3, 0.1] };
  assert.equal(snap(probe, 2, 0.09, { enclosure, items: [...items, probe] }, 0.01), 0.08, "the slab");
  assert.equal(snap(items[1], 0, 0.437, state, 0.0127), 0.4318, "half inches");
});

test("a copy stands beside its item, on the side with room", () => {
  assert.equal(twinOf(slab(), enclosure).at_m[0], 0.62);
  const right = { ...slab(), at_m: [1.05, 0.3, 0.05] };
  assert.equal(twinOf(right, enclosure).at_m[0], 0.73);
  assert.equal(twinOf(lamp(), enclosure).at_m[0], 0.45);
});

test("a field is read between its points", () => {
  const grid = [
    [0, 10],
    [20, 30],
  ];
  assert.equal(bilinear(grid, 0, 0), 0);
  assert.equal(bilinear(grid, 1, 1), 30);
  assert.equal(bilinear(grid, 0.5, 0.5), 15);
  assert.equal(bilinear(grid, 0.25, 0), 5);
});
