/** The frames chosen after a click on one: alone, with Ctrl one more or less, with Shift all up to it. */
export function chosenBy(
  order: number[],
  chosen: number[],
  frame: number,
  keys: { shift: boolean; one: boolean },
): number[] {
  const last = chosen.at(-1);
  if (keys.shift && last !== undefined) {
    const [from, to] = [order.indexOf(last), order.indexOf(frame)].sort((a, b) => a - b);
    const between = order.slice(from, (to ?? 0) + 1).filter((each) => each !== last);
    return [...new Set([...chosen.filter((each) => each !== last), ...between, last])];
  }
  if (keys.one) return chosen.includes(frame) ? chosen.filter((each) => each !== frame) : [...chosen, frame];
  return chosen.length === 1 && chosen[0] === frame ? [] : [frame];
}
