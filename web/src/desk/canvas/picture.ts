/** The picture of a frame that is shown, pixels. */
export type Picture = { id: number; width: number; height: number };
