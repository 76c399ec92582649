import { api, ask, sentence, type Wanted } from "../api/client";

import * as words from "../words/words";
import { LIKE_THE_ORIGINAL, query } from "./wanted";

export type Progress = (done: number, of: number) => void;

/** How and where to: to the browser's downloads if there is no folder. */
export type Delivery = { shoot: number; frames: number[]; wanted: Wanted; folder: string | null };

/** The names that files will have, and which of them are in the folder already. */
export const names = ({ frames, wanted, folder }: Delivery) =>
  ask(api.POST("/api/deliveries/names", { body: { frames, wanted, folder } }));

/** Deliver frames; over: files that are there already are replaced. What came of it, in a sentence. How it was done is
 * kept, to be repeated. */
export async function deliver(delivery: Delivery, over: boolean, tell: Progress): Promise<string> {
  const said = await handed(delivery, over, tell);
  const { shoot, wanted, folder } = delivery;
  const where = { params: { path: { shoot_id: shoot } }, body: { wanted, folder } };
  await ask(api.PUT("/api/shoots/{shoot_id}/delivery", where));
  return said;
}

async function handed(delivery: Delivery, over: boolean, tell: Progress): Promise<string> {
  const { frames, wanted, folder } = delivery;
  if (folder !== null) return into(frames, wanted, folder, over, tell);
  const [only] = frames;
  if (frames.length === 1 && only !== undefined && !wanted.masks) return saved(only, wanted);
  // Asked first, so that what cannot be is said here and not in a broken file.
  await names(delivery);
  const more = frames.map((frame) => ["frames", frame] as [string, number]);
  click(`/api/deliveries/zip?${query(wanted, more)}`, "swept.zip");
  await kept(frames);
  return words.deliver.onTheWay(frames.length);
}

/** Deliver frames of a shoot as it was delivered last; nothing is written over. */
export async function deliverAgain(shoot: number, frames: number[], tell: Progress): Promise<string> {
  const where = { params: { path: { shoot_id: shoot } } };
  const last = await ask(api.GET("/api/shoots/{shoot_id}/delivery", where));
  if (!last) throw new Error(words.deliver.neverDelivered);
  const wish = {
    shoot,
    frames,
    wanted: { ...LIKE_THE_ORIGINAL, ...last.wanted },
    folder: last.folder ?? null,
  };
  const there = (await names(wish)).filter((each) => each.there);
  const [first] = there;
  if (first) {
    throw new Error(words.deliver.refused(there.length, first.name));
  }
  return deliver(wish, false, tell);
}

async function into(frames: number[], wanted: Wanted, folder: string, over: boolean, tell: Progress) {
  const count = frames.length;
  let first = "";
  for (const [k, frame] of frames.entries()) {
    tell(k, count);
    const body = { wanted, folder, number: k + 1, count, over };
    const where = { params: { path: { frame_id: frame } }, body };
    const { files } = await ask(api.POST("/api/frames/{frame_id}/delivery", where));
    first ||= files[0] ?? "";
  }
  tell(count, count);
  return count === 1 ? words.deliver.savedAs(first) : words.deliver.savedIn(count, folder);
}

/** Download a frame's file; the name it got. */
async function saved(frame: number, wanted: Wanted): Promise<string> {
  const answer = await fetch(`/api/frames/${frame}/delivery?${query(wanted)}`);
  if (!answer.ok) throw new Error(sentence(await answer.json().catch(() => null), answer.status));
  const name = decodeURIComponent(
    answer.headers.get("Content-Disposition")?.split("UTF-8''")[1] ?? "picture",
  );
  const address = URL.createObjectURL(await answer.blob());
  click(address, name);
  setTimeout(() => URL.revokeObjectURL(address), 60_000);
  await kept([frame]);
  return words.deliver.savedAs(name);
}

/** Whoever fetches files says that they were handed over: to fetch one changes nothing. */
const kept = (frames: number[]) => ask(api.POST("/api/deliveries/made", { body: { frames } }));

function click(address: string, name: string) {
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
}
