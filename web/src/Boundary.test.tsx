import { describe, expect, it, vi } from "vitest";
import { Boundary } from "./Boundary";
import { shown } from "./testing/shown";

const Broken = () => {
  throw new Error("The page is older than the server.");
};

describe("a page that cannot be drawn", () => {
  it("says so, that nothing is lost, and what helps", () => {
    vi.spyOn(console, "error").mockImplementation(() => {});
    const { getByRole, button } = shown(
      <Boundary>
        <Broken />
      </Boundary>,
    );
    expect(getByRole("alert").textContent).toContain("Nothing of your work is lost");
    expect(getByRole("alert").textContent).toContain("The page is older than the server.");
    expect(getByRole("link").getAttribute("href")).toBe("/api/report");
    expect(button("Load it again")).toBeDefined();
  });
});
