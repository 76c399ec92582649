export const desk = {
  title: (name: string) => `${name} · Keen Sweep`,
  bringBack: "Bring back",
  sheetWidth: "Width of the job sheet",
  trayHeight: "Height of the takes",
};
