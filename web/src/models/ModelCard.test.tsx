import { describe, expect, it, vi } from "vitest";
import { api, type Model } from "../api/client";
import { shown } from "../testing/shown";
import { ModelCard } from "./ModelCard";

const model = (more: Partial<Model>) =>
  ({
    id: 4,
    name: "Painter",
    kind: "onnx",
    place: "/models/p.onnx",
    largest: 0,
    most_credits: 0,
    for_auto: false,
    has_key: false,
    left: null,
    trial: null,
    trial_good: null,
    tried_at: null,
    ...more,
  }) as Model;

describe("the card of a model", () => {
  it("asks for a key and a limit only where something may cost", () => {
    const file = shown(<ModelCard model={model({})} />);
    expect(file.queryByLabelText("Key of Painter")).toBeNull();
    expect(file.queryByLabelText(/Most for a fill/)).toBeNull();
    const service = shown(<ModelCard model={model({ kind: "service", left: 12, has_key: true })} />);
    expect(service.text()).toContain("12 credits left");
    expect(service.getByLabelText("Key of Painter").getAttribute("placeholder")).toBe(
      "saved; type to replace it",
    );
    expect(service.text()).toContain("Test, no cost");
  });

  it("says what went wrong, and can be tried again", async () => {
    vi.spyOn(api, "POST").mockResolvedValue({
      error: { detail: "There is no file at /models/p.onnx." },
      response: new Response(null, { status: 404 }),
    } as never);
    const { hand, button, findByText } = shown(<ModelCard model={model({})} />);
    await hand.click(button("Test"));
    expect(await findByText("There is no file at /models/p.onnx.")).toBeDefined();
    expect(button("Test").hasAttribute("disabled")).toBe(false);
  });
});
