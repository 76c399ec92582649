import createClient from "openapi-fetch";
import * as words from "../words/words";
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
export type LeadLine = Schemas["LeadLine"];
/** What a line brings into the mask. */
export type Brings = NonNullable<LeadLine["brings"]>;
export type Find = Schemas["FindOut"];
export type PieceSize = "small" | "medium" | "large";
export type Box = Schemas["Box"];
export type Snag = Schemas["SnagOut"];
export type Model = Schemas["ModelOut"];
export type Quote = Schemas["QuoteOut"];
export type Ground = Schemas["Ground"];
export type Knobs = Required<Schemas["Knobs"]>;
export type Fill = Schemas["Fill"];
/** What differs from three fine takes of the whole mask at once. */
export type HowToFill = Partial<Fill>;
export type Standing = Schemas["StandingOut"];
export type Sister = Schemas["SisterOut"];
export type Wanted = Required<Schemas["Wanted"]>;
export type FileKind = Wanted["kind"];
export type Ledger = Schemas["Ledger"];
export type Step = Schemas["StepOut"];
export type Taste = Schemas["TasteOut"];
export type LibraryRoom = Schemas["LibraryOut"];
export type Token = Schemas["TokenOut"];
export type Notice = Schemas["NoticeOut"];
export type News = Schemas["News"];
export type Problem = Schemas["Problem"];

/** This window: what it asks for it is answered, and need not hear of as news. */
export const WINDOW = crypto.randomUUID?.() ?? String(Math.random());
/** What is only read is given up after so long, ms, and asked for anew: an answer may get lost. */
const LONGEST_READ = 25_000;
/** An edit is given up after so long, ms: the edits of a frame happen in turn, and one without an answer would hold up all
 * that follow. The slowest, a cling in a large picture, takes a minute. */
const LONGEST_EDIT = 180_000;
const fetched = (request: Request): Promise<Response> => {
  const longest = request.method === "GET" ? LONGEST_READ : LONGEST_EDIT;
  return fetch(request, { signal: AbortSignal.any([request.signal, AbortSignal.timeout(longest)]) });
};
export const api = createClient<paths>({ baseUrl: "", headers: { "X-Window": WINDOW }, fetch: fetched });

/** What a server that was reached says no to: asked again it says the same, unless it is in trouble itself. */
export class Refused extends Error {
  constructor(
    sentence: string,
    readonly status: number,
  ) {
    super(sentence);
  }
}

/** Whether what failed so many times is worth asking for once more. */
export const worthAsking = (failures: number, error: Error) =>
  failures < 1 && !(error instanceof Refused && error.status < 500);

type Answer = { data?: unknown; error?: unknown; response: Response };

/** The data of an answer, or an error with the sentence the server gave. The client's mapped types turn pairs into
 * lists, while the schema says pairs: whoever needs those names the type. */
export function ask<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T>;
export function ask<T>(answer: Promise<Answer>): Promise<T>;
export async function ask<T>(answer: Promise<Answer>): Promise<T> {
  let got: Answer;
  try {
    got = await answer;
  } catch {
    throw new Error(words.app.noAnswer);
  }
  if (!got.response.ok) throw new Refused(sentence(got.error, got.response.status), got.response.status);
  return got.data as T;
}

export function sentence(problem: unknown, status: number): string {
  const detail = (problem as Problem | undefined)?.detail;
  return typeof detail === "string" && detail ? detail : words.app.requestFailed(status);
}

/** Send a file as it is. */
export async function sent<T>(address: string, file: File): Promise<T> {
  const headers = { "Content-Type": "application/octet-stream", "X-Window": WINDOW };
  const response = await fetch(address, { method: "POST", body: file, headers });
  const data = await response.json().catch(() => null);
  return ask<T>(Promise.resolve(response.ok ? { data, response } : { error: data, response }));
}
