import { expect, test } from "vitest";
import { inBytes } from "./bytes";

test("bytes are said in three digits or fewer", () => {
  expect(inBytes(0)).toBe("0 kB");
  expect(inBytes(1_499)).toBe("1 kB");
  expect(inBytes(999_400)).toBe("999 kB");
  expect(inBytes(999_600)).toBe("1.0 MB");
  expect(inBytes(9_960_000)).toBe("10 MB");
  expect(inBytes(12_340_000_000)).toBe("12 GB");
  expect(inBytes(4.2e15)).toBe("4200 TB");
});
