/** A span of time in words: to the second below a minute, to the minute below an hour. */
export function span(seconds: number): string {
  if (seconds < 60) return `${Math.max(Math.round(seconds), 1)} s`;
  const minutes = Math.round(seconds / 60);
  if (minutes < 60) return `${minutes} min`;
  return `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}
