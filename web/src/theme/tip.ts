/** What a thing is for: shown beside it (Tips), and read out with its name. */
export const tipped = (says: string | undefined) =>
  says ? { "data-tip": says, "aria-description": says } : undefined;
