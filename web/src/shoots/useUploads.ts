import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAgain, shootsKey } from "../api/queries";
import { type Upload, upload } from "./upload";

/** Files on their way into a shoot, and a way to send more. */
export function useUploads(shoot: number) {
  const queries = useQueryClient();
  const [uploads, setUploads] = useState<Upload[]>([]);
  const [since, setSince] = useState(0);
  const take = async (files: File[]) => {
    if (!files.length) return;
    setSince(performance.now());
    await upload(shoot, files, (changed) =>
      setUploads((known) =>
        known.some((u) => u.id === changed.id)
          ? known.map((u) => (u.id === changed.id ? changed : u))
          : [...known, changed],
      ),
    );
    askAgain(queries, shootsKey);
    setUploads((known) => known.filter((u) => u.state !== "done"));
  };
  return { uploads, since, take, forget: () => setUploads([]) };
}
