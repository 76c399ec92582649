import { render } from "@testing-library/react";
import type { ReactElement } from "react";
import { expect, test, vi } from "vitest";
import { Boundary } from "./Boundary";

function Broken(): ReactElement {
  throw new Error("Failed to fetch dynamically imported module");
}

test("what fails in one page is forgotten in the next, and what is only extra leaves nothing behind", () => {
  vi.spyOn(console, "error").mockImplementation(() => undefined);
  const shown = (page: string, what: ReactElement) => (
    <>
      <Boundary page={page} instead={<p>failed</p>}>
        {what}
      </Boundary>
      <Boundary instead={null}>
        <Broken />
      </Boundary>
    </>
  );
  const found = render(shown("/library", <Broken />));
  expect(found.container.textContent).toBe("failed");
  found.rerender(shown("/library", <p>shoots</p>));
  expect(found.container.textContent).toBe("failed");
  found.rerender(shown("/", <p>shoots</p>));
  expect(found.container.textContent).toBe("shoots");
});
