import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import type { Desk } from "../api/client";
import { showDesk } from "../api/queries";

/** The frames next to one are there when they are gone to. */
export function useNextFrames(desk: Desk | undefined) {
  const queries = useQueryClient();
  const at = desk?.neighbours.findIndex((each) => each.id === desk.frame.id) ?? -1;
  const [before, after] = [desk?.neighbours[at - 1]?.id, desk?.neighbours[at + 1]?.id];
  useEffect(() => {
    for (const next of [after, before])
      if (next !== undefined) void queries.prefetchQuery({ ...showDesk(next), staleTime: 5_000 });
  }, [before, after, queries]);
}
