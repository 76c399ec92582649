import { api, ask, type Desk, sent } from "../../api/client";
import { shootsKey } from "../../api/queries";
import type { FrameDoing } from "./frame";

type LaidAgain = { laid: number; left: string[]; desk: Desk };

/** Newer versions of the picture's file, and the fills that have to follow. */
export function versions({ frame, path, queries, state, inTurn }: FrameDoing) {
  return {
    takeUp: (file: File) =>
      inTurn(async () => {
        const name = encodeURIComponent(file.name);
        const desk = await sent<Desk>(`/api/frames/${frame}/versions?name=${name}`, file);
        await queries.invalidateQueries({ queryKey: shootsKey });
        return desk;
      }),
    layAgain: () =>
      inTurn(async () => {
        const answer = await ask<LaidAgain>(
          api.POST("/api/frames/{frame_id}/lay-again", { params: { path } }),
        );
        const some = answer.laid === 1 ? "One fill was" : `${answer.laid} fills were`;
        state().set(
          answer.left.length
            ? { problem: `${some} laid again. ${answer.left.join(" ")}` }
            : { done: `${some} laid again.` },
        );
        return answer;
      }),
    letGo: () => inTurn(() => ask<Desk>(api.POST("/api/frames/{frame_id}/let-go", { params: { path } }))),
  };
}

/** Let a file be chosen. */
export function chooseFile(accept: string): Promise<File> {
  return new Promise((resolve) => {
    const chooser = document.createElement("input");
    chooser.type = "file";
    chooser.accept = accept;
    chooser.onchange = () => chooser.files?.[0] && resolve(chooser.files[0]);
    chooser.click();
  });
}
