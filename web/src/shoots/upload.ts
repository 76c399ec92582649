import { sentence } from "../api/client";

export type Upload = {
  id: number;
  name: string;
  share: number;
  state: "sending" | "checking" | "done" | "failed";
  error?: string;
};

let last = 0;

/** Send files one after another; each change of each is told. */
export async function upload(shoot: number, files: File[], tell: (upload: Upload) => void): Promise<void> {
  const waiting = files.map((file) => ({
    file,
    entry: { id: ++last, name: file.name, share: 0, state: "sending" } as Upload,
  }));
  for (const { entry } of waiting) tell(entry);
  for (const { file, entry } of waiting) await send(shoot, file, entry, tell);
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
      tell(
        good
          ? { ...entry, share: 1, state: "done" }
          : { ...entry, share: 1, state: "failed", error: sentence(request.response, request.status) },
      );
      resolve();
    };
    request.onerror = () => {
      tell({ ...entry, state: "failed", error: "Keen Sweep does not answer: is it still running?" });
      resolve();
    };
    request.send(file);
  });
}
