/* The value of a grid between its points; x and z from 0 to 1. */
export function bilinear(grid, x, z) {
  const fx = x * (grid.length - 1);
  const fz = z * (grid[0].length - 1);
  const i = Math.min(Math.floor(fx), grid.length - 2);
  const k = Math.min(Math.floor(fz), grid[0].length - 2);
  const a = fx - i;
  const c = fz - k;
  const near = (1 - c) * grid[i][k] + c * grid[i][k + 1];
  const far = (1 - c) * grid[i + 1][k] + c * grid[i + 1][k + 1];
  return (1 - a) * near + a * far;
}
