import { api, ask, type Desk, sent } from "../../api/client";
import { shootsKey } from "../../api/queries";
import * as words from "../../words/words";
import type { FrameDoing } from "./frame";

type Followed = { done: number; left: string[]; desk: Desk };

/** Newer versions of the picture's file, and the fills that have to follow. */
export function versions({ frame, path, queries, state, inTurn }: FrameDoing) {
  const tell = (done: string, left: string[]) =>
    state().set(left.length ? { problem: [done, ...left].join(" ") } : { done });
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
        const answer = await ask<Followed>(
          api.POST("/api/frames/{frame_id}/version-updates", { params: { path }, body: { fills: "lay" } }),
        );

        tell(words.doing.laidAgain(answer.done), answer.left);
        return answer;
      }),
    /** A take follows what changed below it. */
    layOnTop: (sweep_id: string) =>
      inTurn(() =>
        ask<Desk>(
          api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/lay-again", {
            params: { path: { ...path, sweep_id } },
          }),
        ),
      ),
    fillAnew: () =>
      inTurn(async () => {
        const answer = await ask<Followed>(
          api.POST("/api/frames/{frame_id}/version-updates", { params: { path }, body: { fills: "fill" } }),
        );

        tell(words.doing.filledAnew(answer.done), answer.left);
        return answer;
      }),
    letGo: () =>
      inTurn(async () => {
        const answer = await ask<Followed>(
          api.POST("/api/frames/{frame_id}/version-updates", { params: { path }, body: { fills: "drop" } }),
        );
        state().set({ taken: { says: words.doing.letGo } });
        return answer;
      }),
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
