import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { setNonce } from "get-nonce";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App } from "./app";
import { Refused } from "./lib/api";
import "./styles.css";

// Dialogs add a style element while open; the policy lets it through by nonce.
const nonce = document.querySelector<HTMLMetaElement>("meta[name=csp-nonce]")?.content;
if (nonce) setNonce(nonce);

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      retry: (n, error) => n < 2 && !(error instanceof Refused && error.status >= 400 && error.status < 500),
    },
  },
});

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <App />
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
