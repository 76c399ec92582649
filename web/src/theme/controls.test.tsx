import { act, fireEvent } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { shown } from "../testing/shown";
import { Amount, Choice, Tick } from "./controls";
import { Divider } from "./Divider";

describe("an amount", () => {
  const amount = async (keys: string, more: object = {}) => {
    const told: number[] = [];
    const { hand, getByRole } = shown(
      <Amount
        label="Size"
        unit="px"
        value={10}
        least={1}
        most={50}
        onChange={(value) => told.push(value)}
        {...more}
      />,
    );
    const field = getByRole("textbox") as HTMLInputElement;
    await hand.clear(field);
    await hand.type(field, `${keys}{Enter}`);
    return { told, field };
  };

  it("is kept within its bounds and rounded to its steps; a comma will do", async () => {
    expect((await amount("12")).told).toEqual([12]);
    expect((await amount("900")).told).toEqual([50]);
    expect((await amount("7,26", { step: 0.5 })).told).toEqual([7.5]);
  });

  it("is as it was if what was typed is no number", async () => {
    const { told, field } = await amount("wide");
    expect(told).toEqual([]);
    expect(field.value).toBe("10");
  });
});

describe("a tick", () => {
  it("shows a click at once, and goes back if the server does not say the same", () => {
    vi.useFakeTimers();
    const told: boolean[] = [];
    const { getByRole } = shown(<Tick checked={false} onChange={(on) => told.push(on)} />);
    const box = getByRole("checkbox") as HTMLInputElement;
    fireEvent.click(box);
    expect(told).toEqual([true]);
    expect(box.checked).toBe(true);
    act(() => void vi.advanceTimersByTime(5_000));
    expect(box.checked).toBe(false);
    vi.useRealTimers();
  });
});

describe("a choice", () => {
  it("is made by value, even of two that are called the same", async () => {
    const told: string[] = [];
    const { hand, getByRole } = shown(
      <Choice
        label="Model"
        value="1"
        among={["1", "2"]}
        said={() => "Painter"}
        wide="90px"
        onChange={(each) => told.push(each)}
      />,
    );
    await hand.selectOptions(getByRole("combobox"), "2");
    expect(told).toEqual(["2"]);
  });
});

describe("the edge of a panel", () => {
  it("moves with arrows within its bounds, and folds with Enter", () => {
    const told: (number | boolean)[] = [];
    const { getByRole } = shown(
      <Divider
        label="Width"
        of="panel"
        value={300}
        least={290}
        most={310}
        side="left"
        folded={false}
        onChange={(value) => told.push(value)}
        onFold={(folded) => told.push(folded)}
      />,
    );
    for (const key of ["ArrowRight", "ArrowLeft", "ArrowUp", "Home", "Enter"])
      fireEvent.keyDown(getByRole("separator"), { key });
    expect(told).toEqual([310, 290, 290, true]);
  });
});
