import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { setNonce } from "get-nonce";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App } from "./app";
import { Refused } from "./lib/api";
import { onReturn } from "./lib/line";
import { ahead } from "./lib/queries";
import "./lib/leaving"; // hears of a step back before the router does
import { Boundary } from "./parts/Broken";
import "./styles.css";

// Dialogs add a style element while open; the policy lets it through by nonce.
const nonce = document.querySelector<HTMLMetaElement>("meta[name=csp-nonce]")?.content;
if (nonce) setNonce(nonce);

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      // Whether there is a line is found out by asking, not by what the device believes.
      networkMode: "always",
      retry: (n, error) => n < 2 && !(error instanceof Refused && error.status < 500),
    },
    mutations: { networkMode: "always" },
  },
});
ahead(queries);
onReturn(() => void queries.invalidateQueries());

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <Boundary>
          <App />
        </Boundary>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
