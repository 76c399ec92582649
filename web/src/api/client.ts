import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type Shoot = Schemas["ShootOut"];
export type Frame = Schemas["FrameOut"];
export type Desk = Schemas["DeskOut"];
export type Sweep = Schemas["SweepOut"];
export type Take = Schemas["TakeOut"];
export type Run = Schemas["RunOut"];
export type Stroke = Schemas["Stroke"];
export type Outline = Schemas["Outline"];
export type Touch = Schemas["TouchOut"];
export type TouchBrush = Touch["brush"];
export type Source = Schemas["Source"];
export type Shape = Stroke | Outline | Schemas["Area"];
export type Drawable = Stroke | Outline;
export type Fit = Required<Schemas["Fit"]>;
export type SecondThoughts = Schemas["SecondThoughts"];
export type Scouts = Schemas["ScoutsOut"];
export type Find = Schemas["FindOut"];
export type Grain = "small" | "medium" | "large";
export type Box = Schemas["Box"];
export type Snag = Schemas["SnagOut"];
export type Model = Schemas["ModelOut"];
export type Quote = Schemas["QuoteOut"];
export type Ground = Schemas["Ground"];
export type Knobs = Required<Schemas["Knobs"]>;
export type Fill = Schemas["Fill"];
export type Problem = Schemas["Problem"];

export const api = createClient<paths>({ baseUrl: "" });

/** The data of an answer, or an error with the sentence the server gave. */
export async function ask<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let got: { data?: T; error?: unknown; response: Response };
  try {
    got = await answer;
  } catch {
    throw new Error("Keen Sweep does not answer: is it still running?");
  }
  if (!got.response.ok) throw new Error(sentence(got.error, got.response.status));
  return got.data as T;
}

export function sentence(problem: unknown, status: number): string {
  const detail = (problem as Problem | undefined)?.detail;
  return typeof detail === "string" && detail ? detail : `The request failed (${status}).`;
}
