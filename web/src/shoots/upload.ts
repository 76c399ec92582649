import { sentence } from "../api/client";
import * as words from "../words/words";

export type Upload = {
  id: number;
  name: string;
  size: number;
  share: number;
  state: "waiting" | "sending" | "checking" | "done" | "there" | "failed";
  error?: string;
};

let last = 0;
const THERE = 409;

/** Send files one after another; each change of each is told. */
export async function upload(shoot: number, files: File[], tell: (upload: Upload) => void): Promise<void> {
  const waiting = files.map((file) => ({
    file,
    entry: { id: ++last, name: file.name, size: file.size, share: 0, state: "waiting" } as Upload,
  }));
  for (const { entry } of waiting) tell(entry);
  for (const { file, entry } of waiting) await send(shoot, file, { ...entry, state: "sending" }, tell);
}

/** How far all of them are by bytes, 0 to 1, how many are through, and the seconds left once that can be told. */
export function underWay(
  uploads: Upload[],
  seconds: number,
): { share: number; through: number; left?: number } {
  const through = uploads.filter((u) => u.state === "done" || u.state === "there" || u.state === "failed");
  const all = uploads.reduce((sum, u) => sum + u.size, 0);
  const sent = uploads.reduce((sum, u) => sum + u.size * (through.includes(u) ? 1 : u.share * 0.9), 0);
  const share = all ? sent / all : 0;
  const left = share > 0.02 && seconds > 1 ? (seconds * (1 - share)) / share : undefined;
  return { share, through: through.length, left };
}

function send(shoot: number, file: File, entry: Upload, tell: (upload: Upload) => void): Promise<void> {
  return new Promise((resolve) => {
    const request = new XMLHttpRequest();
    request.open("POST", `/api/shoots/${shoot}/frames?name=${encodeURIComponent(file.name)}`);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.responseType = "json";
    request.upload.onprogress = (event) => tell({ ...entry, share: event.loaded / Math.max(event.total, 1) });
    request.upload.onload = () => tell({ ...entry, share: 1, state: "checking" });
    request.onload = () => {
      const good = request.status < 300;
      const known = request.status === THERE && request.response?.type?.endsWith("already-there");
      tell(
        good
          ? { ...entry, share: 1, state: "done" }
          : {
              ...entry,
              share: 1,
              state: known ? "there" : "failed",
              error: sentence(request.response, request.status),
            },
      );
      resolve();
    };
    request.onerror = () => {
      tell({ ...entry, state: "failed", error: words.app.noAnswer });
      resolve();
    };
    request.send(file);
  });
}
