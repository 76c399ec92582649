import "@fontsource/atkinson-hyperlegible/400.css";
import "@fontsource/atkinson-hyperlegible/700.css";
import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";
import { useEvents } from "./api/events";
import { DeliverPage } from "./deliver/DeliverPage";
import { LedgerPage } from "./deliver/LedgerPage";
import { DeskPage } from "./desk/DeskPage";
import { ModelsPage } from "./models/ModelsPage";
import { NowherePage } from "./NowherePage";
import { ShootsPage } from "./shoots/ShootsPage";
import { system } from "./theme/system";

// The server is on this machine: nothing waits for a network.
const networkMode = "always" as const;
const queries = new QueryClient({
  defaultOptions: {
    queries: { networkMode, staleTime: 60_000, retry: 1, refetchOnWindowFocus: true },
    mutations: { networkMode },
  },
});

function Pages() {
  useEvents();
  return (
    <Routes>
      <Route path="/" element={<ShootsPage />} />
      <Route path="/frames/:frameId" element={<DeskPage />} />
      <Route path="/frames/:frameId/deliver" element={<DeliverPage />} />
      <Route path="/frames/:frameId/ledger" element={<LedgerPage />} />
      <Route path="/deliver" element={<DeliverPage />} />
      <Route path="/ledger" element={<LedgerPage />} />
      <Route path="/models" element={<ModelsPage />} />
      <Route path="*" element={<NowherePage />} />
    </Routes>
  );
}

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <ChakraProvider value={system}>
        <QueryClientProvider client={queries}>
          <BrowserRouter>
            <Pages />
          </BrowserRouter>
        </QueryClientProvider>
      </ChakraProvider>
    </StrictMode>,
  );
}
