import { create } from "zustand";

type Ready = {
  /** Of frames that are not looked at: how many sweeps were filled there since. */
  frames: Record<number, string[]>;
  filled: (frame: number, sweep: string) => void;
  seen: (frame: number) => void;
};

/** What was finished while something else was looked at. */
export const useReady = create<Ready>((set) => ({
  frames: {},
  filled: (frame, sweep) =>
    set(({ frames }) => {
      const known = frames[frame] ?? [];
      return known.includes(sweep) ? {} : { frames: { ...frames, [frame]: [...known, sweep] } };
    }),
  seen: (frame) =>
    set(({ frames }) => {
      if (!frames[frame]) return {};
      const { [frame]: _, ...rest } = frames;
      return { frames: rest };
    }),
}));

/** The frame whose desk a window is at, by its address. */
export const frameAt = (address: string): number | null => {
  const found = /^\/frames\/(\d+)$/.exec(address);
  return found ? Number(found[1]) : null;
};
