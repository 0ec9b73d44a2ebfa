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
import { placeAhead } from "./places";
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
onReturn(() => void queries.invalidateQueries());

const root = createRoot(document.getElementById("root")!);
const draw = () =>
  root.render(
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
// What was asked for ahead is mostly there: one drawing then does instead of three.
void Promise.race([
  Promise.all([ahead(queries), placeAhead(window.location.pathname)]),
  new Promise((done) => setTimeout(done, 300)),
]).then(draw);
