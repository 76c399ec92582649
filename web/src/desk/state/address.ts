/** What an address says of the desk besides its frame: a sweep by its number, a take by its place among its takes (0 is as
 * shot), and the place that is looked at: the middle in picture pixels, and per cent of full size. */
export type Said = { sweep?: number; take?: number; at?: { x: number; y: number; percent: number } };

const number = (text: string | null): number | undefined =>
  text && /^\d+(\.\d+)?$/.test(text) ? Number(text) : undefined;

/** What the query of an address says; what is not understood is left out. */
export function read(query: string): Said {
  const said = new URLSearchParams(query);
  const [x, y, percent] = (said.get("at") ?? "").split(",").map((each) => number(each));
  return {
    sweep: number(said.get("sweep")),
    take: number(said.get("take")),
    at: x !== undefined && y !== undefined && percent ? { x, y, percent } : undefined,
  };
}

/** The query that says it; empty if there is nothing to say. */
export function written({ sweep, take, at }: Said): string {
  const parts = [
    sweep === undefined ? "" : `sweep=${sweep}`,
    sweep === undefined || take === undefined ? "" : `take=${take}`,
    at ? `at=${Math.round(at.x)},${Math.round(at.y)},${+at.percent.toFixed(1)}` : "",
  ].filter(Boolean);
  return parts.length ? `?${parts.join("&")}` : "";
}
