import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { ReactElement } from "react";
import { MemoryRouter } from "react-router";
import type { Actions } from "../desk/doing/actions";
import type { Room } from "../desk/doing/commands/command";
import { TheRoom } from "../desk/doing/commands/Do";
import { system } from "../theme/system";
import { aDesk } from "./made";

/** What was asked of the server through the actions of the desk, in order: the name of the action and what it was given. */
export const asked: [name: string, ...given: unknown[]][] = [];
const masks = { ghosts: [], finds: [], onChange: () => {} };
const recorder = new Proxy(
  { masks },
  {
    get: (own, name) =>
      name in own ? masks : (...given: unknown[]) => void asked.push([String(name), ...given]),
  },
);
/** Actions that only say that they were asked for. */
export const actions = recorder as unknown as Actions;

/** A component as it stands on a page, and a hand for it. */
export function shown(element: ReactElement, room: Partial<Room> = {}) {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false, networkMode: "always" } } });
  const whole: Room = {
    desk: aDesk(),
    scouts: undefined,
    series: undefined,
    actions,
    viewer: null,
    go: () => {},
    open: () => {},
    ...room,
  };
  const page = (what: ReactElement) => (
    <ChakraProvider value={system}>
      <QueryClientProvider client={queries}>
        <MemoryRouter>
          <TheRoom value={whole}>{what}</TheRoom>
        </MemoryRouter>
      </QueryClientProvider>
    </ChakraProvider>
  );
  const found = render(page(element));
  const own = within(found.container);
  return {
    ...own,
    hand: userEvent.setup(),
    /** The same component, given something else. */
    becomes: (next: ReactElement) => found.rerender(page(next)),
    button: (name: string | RegExp) => own.getByRole("button", { name }),
    container: found.container,
    /** What stands there to be read. */
    text: () => found.container.textContent ?? "",
  };
}
