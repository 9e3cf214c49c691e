/* What is predicted at a point of the paper, in words. */

import { bilinear } from "../field.js";

const INCH_M = 0.0254;

/* A length as it is typed into a field. */
export const typedLength = (metres, inches) =>
  inches ? `${(metres / INCH_M).toFixed(1)} in` : `${(metres * 100).toFixed(0)} cm`;

/* A point of the paper in the enclosure [m]: x along, z up in the front view, y to the back in the view from above. */
export function placeOn(sheet, point) {
  return {
    x: (point.x - sheet.left) / sheet.scale,
    z: (sheet.floor - point.y) / sheet.scale,
    y: (sheet.front - point.y) / sheet.scale,
  };
}

/* Whether a place lies in the air of the front view. */
export const inAir = (field, { x, z }) =>
  x >= 0 && x <= field.length && z >= field.substrate && z <= field.height;

export function wordsAt(field, { x, y, z }, inches) {
  if (x < 0 || x > field.length) return "";
  const along = `${typedLength(x, inches)} from the left`;
  if (!inAir(field, { x, z })) {
    return y >= 0 && y <= field.depth ? `${along}, ${typedLength(y, inches)} from the front` : "";
  }
  const up = (z - field.substrate) / (field.height - field.substrate);
  const at = (grid) => bilinear(grid, x / field.length, up);
  const parts = [`air ${at(field.air).toFixed(1)} ${field.unit}`, `UVI ${at(field.uvi).toFixed(1)}`];
  if (field.lux.length) parts.push(`${Math.round(at(field.lux) / 100) * 100} lx`);
  if (field.damp.length) parts.push(`humidity ${Math.round(at(field.damp))} %`);
  return `${along}, ${typedLength(z, inches)} up: ${parts.join(", ")}`;
}
