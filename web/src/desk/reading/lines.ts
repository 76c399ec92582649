/** How many points the server takes of one line. */
const MOST_POINTS = 200;

/** A line drawn by a free hand with no more points than the server takes: both ends, and others evenly between. */
export function thinned(points: [number, number][]): [number, number][] {
  const last = points.length - 1;
  const step = Math.max(Math.ceil(points.length / (MOST_POINTS - 1)), 1);
  return points.filter((_, k) => k % step === 0 || k === last);
}
