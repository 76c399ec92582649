import { sentence } from "../api/client";

/** Save the finished picture of a frame as a file; the name it got. */
export async function saveDelivery(frame: number, format: string, revision: number): Promise<string> {
  const answer = await fetch(`/api/frames/${frame}/delivery?kind=${format}&revision=${revision}`);
  if (!answer.ok) throw new Error(sentence(await answer.json().catch(() => null), answer.status));
  const name = decodeURIComponent(
    answer.headers.get("Content-Disposition")?.split("UTF-8''")[1] ?? "picture",
  );
  const link = document.createElement("a");
  link.href = URL.createObjectURL(await answer.blob());
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
  return name;
}
