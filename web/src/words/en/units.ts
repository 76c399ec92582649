import { inBytes } from "./bytes";
import { span } from "./span";

/** Numbers with what they count. */
export const units = {
  px: "px",
  percent: (share: number) => `${share} %`,
  credits: (credits: number) => `${credits} ${credits === 1 ? "credit" : "credits"}`,
  aboutSeconds: (seconds: number) => `about ${seconds} s`,
  aboutMinutes: (minutes: number) => `about ${minutes} min`,
  bytes: inBytes,
  span,
};
