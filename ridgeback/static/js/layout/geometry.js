/* Where items may be: inside the enclosure, on the substrate, at marks of their neighbours. All lengths in metres. */

const SNAP_M = 0.015;
const HIGHEST_OVER_LID_M = 0.6;
const FREE_ABOVE = ["slab", "branch", "plant"];

export const round = (value) => Math.round(value * 10000) / 10000;

export const copy = (value) => JSON.parse(JSON.stringify(value));

const between = (value, low, high) => Math.min(Math.max(value, low), high);

/* Half of an item along an axis: 0 the length, 1 the depth. */
export function reach(item, axis) {
  if (item.size_m) return item.size_m[axis] / 2;
  return axis === 0 && item.length_m ? item.length_m / 2 : 0;
}

/* Substrate under an item: level, or rising to one side. */
export function substrateAt(item, enclosure) {
  const { depth_m: mean, slope } = enclosure.substrate;
  if (!slope) return mean;
  const x = (2 * item.at_m[0]) / enclosure.inside_m.length - 1;
  const y = (2 * item.at_m[1]) / enclosure.inside_m.depth - 1;
  return round(mean + slope.rise_m * { left: -x, right: x, back: y }[slope.deep_at]);
}

function heightOf(item, enclosure) {
  const inside = enclosure.inside_m;
  const substrate = substrateAt(item, enclosure);
  const height = item.at_m[2];
  if (item.kind === "heat_mat") return 0;
  if (item.kind === "probe") return round(between(height, substrate, inside.height - 0.01));
  if (item.kind === "pool") return round(between(height, 0, Math.max(substrate, 0)));
  if (item.size_m) {
    const free = FREE_ABOVE.includes(item.kind);
    return free ? round(between(height, substrate, inside.height - item.size_m[2])) : substrate;
  }
  if (item.above_lid) {
    return round(between(height, inside.height + 0.01, inside.height + HIGHEST_OVER_LID_M));
  }
  return round(between(height, substrate + 0.03, inside.height - 0.01));
}

/* Move an item back to where it can be. */
export function keepInside(item, enclosure) {
  const sides = [enclosure.inside_m.length, enclosure.inside_m.depth];
  for (const axis of [0, 1]) {
    const half = Math.min(reach(item, axis), sides[axis] / 2);
    item.at_m[axis] = round(between(item.at_m[axis], half, sides[axis] - half));
  }
  item.at_m[2] = heightOf(item, enclosure);
}

/* To whole steps, and to walls, substrate, lid and the middles of other items when near. */
export function snap(item, axis, value, { enclosure, items }, step) {
  const inside = enclosure.inside_m;
  const half = axis === 2 ? 0 : reach(item, axis);
  const slabs = items.filter((other) => other.kind === "slab");
  const tops = slabs.map((other) => round(other.at_m[2] + other.size_m[2]));
  const marks =
    axis === 2
      ? [substrateAt(item, enclosure), inside.height - 0.03, ...(item.kind === "probe" ? tops : [])]
      : [half, [inside.length, inside.depth][axis] - half];
  for (const other of items) {
    if (other.id !== item.id && axis < 2) marks.push(other.at_m[axis]);
  }
  const nearer = (best, mark) => (Math.abs(mark - value) < Math.abs(best - value) ? mark : best);
  const near = marks.reduce(nearer, Infinity);
  if (Math.abs(near - value) < SNAP_M) return round(near);
  return round(Math.round(value / step) * step);
}

/* A copy beside an item, on the side that has room. */
export function twinOf(item, enclosure) {
  const twin = copy(item);
  const step = item.size_m ? item.size_m[0] + 0.02 : 0.15;
  const fits = twin.at_m[0] + step <= enclosure.inside_m.length - reach(twin, 0);
  twin.at_m[0] = round(fits ? twin.at_m[0] + step : Math.max(twin.at_m[0] - step, reach(twin, 0)));
  return twin;
}
