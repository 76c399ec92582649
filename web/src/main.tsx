import "@fontsource/atkinson-hyperlegible/400.css";
import "@fontsource/atkinson-hyperlegible/700.css";
import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, StrictMode, Suspense, useEffect } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes, useLocation } from "react-router";
import { worthAsking } from "./api/client";
import { useEvents } from "./api/events";
import { showDesk } from "./api/queries";
import { Boundary, Coming } from "./Boundary";
import { type DeskState, useDeskState } from "./desk/state/state";
import { NowherePage } from "./NowherePage";
import { ShootsPage } from "./shoots/ShootsPage";
import { system } from "./theme/system";

/** What is round the picture decides how light everything else is. */
function surrounded({ surround }: Pick<DeskState, "surround">) {
  document.documentElement.dataset.surround = surround;
}
// A file that is let go of where nobody takes it must not replace the page.
for (const event of ["dragover", "drop"])
  window.addEventListener(event, (dropped) => dropped.preventDefault());
surrounded(useDeskState.getState());
useDeskState.subscribe(surrounded);

// The server is on this machine: nothing waits for a network.
const networkMode = "always" as const;
const queries = new QueryClient({
  defaultOptions: {
    queries: { networkMode, staleTime: 60_000, retry: worthAsking, refetchOnWindowFocus: true },
    mutations: { networkMode },
  },
});

// A page comes when it is gone to; the desk is fetched as soon as the shoots are there.
const desk = () => import("./desk/DeskPage");
// Whoever comes to the desk at once need not wait for one thing after another.
const asked = /^\/frames\/(\d+)\/?$/.exec(window.location.pathname)?.[1];
if (asked) {
  void desk().catch(() => undefined);
  void queries.prefetchQuery(showDesk(Number(asked)));
}
const DeskPage = lazy(() => desk().then((it) => ({ default: it.DeskPage })));
const DeliverPage = lazy(() => import("./deliver/DeliverPage").then((it) => ({ default: it.DeliverPage })));
const LedgerPage = lazy(() => import("./deliver/LedgerPage").then((it) => ({ default: it.LedgerPage })));
const LibraryPage = lazy(() => import("./library/LibraryPage").then((it) => ({ default: it.LibraryPage })));
const ModelsPage = lazy(() => import("./models/ModelsPage").then((it) => ({ default: it.ModelsPage })));
// Nobody asks what a thing is for before it is there.
const Tips = lazy(() => import("./theme/Tips").then((it) => ({ default: it.Tips })));

function Pages() {
  useEvents();
  // What fails to come ahead of time is fetched again, and told, when it is gone to.
  useEffect(() => void desk().catch(() => undefined), []);
  return (
    <Suspense fallback={<Coming />}>
      <Routes>
        <Route path="/" element={<ShootsPage />} />
        <Route path="/frames/:frameId" element={<DeskPage />} />
        <Route path="/frames/:frameId/deliver" element={<DeliverPage />} />
        <Route path="/frames/:frameId/ledger" element={<LedgerPage />} />
        <Route path="/deliver" element={<DeliverPage />} />
        <Route path="/ledger" element={<LedgerPage />} />
        <Route path="/library" element={<LibraryPage />} />
        <Route path="/models" element={<ModelsPage />} />
        <Route path="*" element={<NowherePage />} />
      </Routes>
    </Suspense>
  );
}

function Everything() {
  const { pathname } = useLocation();
  return (
    <>
      <Boundary page={pathname}>
        <Pages />
      </Boundary>
      <Boundary instead={null}>
        <Suspense>
          <Tips />
        </Suspense>
      </Boundary>
    </>
  );
}

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <ChakraProvider value={system}>
        <QueryClientProvider client={queries}>
          <BrowserRouter>
            <Everything />
          </BrowserRouter>
        </QueryClientProvider>
      </ChakraProvider>
    </StrictMode>,
  );
}
