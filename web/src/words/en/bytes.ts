const STEPS = ["kB", "MB", "GB", "TB"] as const;

/** A number of bytes as people say it: three digits or fewer, thousands of thousands. */
export function inBytes(bytes: number): string {
  let value = bytes / 1000;
  let step = 0;
  while (value >= 999.5 && step < STEPS.length - 1) {
    value /= 1000;
    step += 1;
  }
  return `${value.toFixed(step > 0 && value < 9.95 ? 1 : 0)} ${STEPS[step]}`;
}
