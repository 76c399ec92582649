/** What is remembered from one visit to the next: a matter of taste, by the names of its fields. */
const names = new Set<string>();

/** What a field was left at the last time, or else what it begins with. */
export function kept<T>(name: string, otherwise: T): T {
  names.add(name);
  try {
    return (JSON.parse(localStorage.getItem(`desk.${name}`) ?? "null") as T | null) ?? otherwise;
  } catch {
    return otherwise;
  }
}

/** Remember what of a change is to be remembered. */
export function keep(change: object) {
  for (const [name, value] of Object.entries(change)) {
    if (names.has(name)) localStorage.setItem(`desk.${name}`, JSON.stringify(value));
  }
}
