/**
 * A minimum of `f` near `start`: the simplex method of J. A. Nelder and R. Mead, Computer Journal 7 (1965), begun anew
 * once where it came to rest, since a flat simplex can rest too early.
 */
export function minimise(
  f: (point: readonly number[]) => number,
  start: readonly number[],
): { point: number[]; value: number } {
  const first = descend(f, start, 1);
  return descend(f, first.point, 0.4);
}

const MOST_STEPS = 260;
const CLOSE = 1e-10;

function descend(
  f: (point: readonly number[]) => number,
  start: readonly number[],
  size: number,
): { point: number[]; value: number } {
  const corner = (point: number[]) => ({ point, value: f(point) });
  const simplex = [
    corner([...start]),
    ...start.map((_, axis) => corner(start.map((x, at) => (at === axis ? x + size : x)))),
  ];
  for (let step = 0; step < MOST_STEPS; step++) {
    simplex.sort((a, b) => a.value - b.value);
    const [best, worst] = [simplex[0]!, simplex.at(-1)!];
    if (worst.value - best.value <= CLOSE * (Math.abs(best.value) + CLOSE)) break;
    const rest = simplex.slice(0, -1);
    const centre = start.map(
      (_, at) => rest.reduce((sum, { point }) => sum + point[at]!, 0) / rest.length,
    );
    const along = (share: number) =>
      corner(centre.map((x, at) => x + share * (worst.point[at]! - x)));
    const reflected = along(-1);
    if (reflected.value < best.value) {
      const expanded = along(-2);
      simplex[simplex.length - 1] = expanded.value < reflected.value ? expanded : reflected;
    } else if (reflected.value < rest.at(-1)!.value) simplex[simplex.length - 1] = reflected;
    else {
      const drawnIn = along(reflected.value < worst.value ? -0.5 : 0.5);
      if (drawnIn.value < Math.min(reflected.value, worst.value)) {
        simplex[simplex.length - 1] = drawnIn;
      } else {
        for (let at = 1; at < simplex.length; at++) {
          simplex[at] = corner(simplex[at]!.point.map((x, axis) => (x + best.point[axis]!) / 2));
        }
      }
    }
  }
  return simplex.sort((a, b) => a.value - b.value)[0]!;
}
