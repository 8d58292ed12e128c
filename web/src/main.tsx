import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { setNonce } from "get-nonce";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App } from "./App";
import { Boundary } from "./ui/Boundary";
import { Unreachable } from "./api/client";
import "./styles.css";
import { applyTheme, storedTheme } from "./ui/theme";

applyTheme(storedTheme());
const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;
if (nonce) setNonce(nonce);

const client = new QueryClient({
  defaultOptions: {
    queries: {
      networkMode: "always", // what this device kept is asked for without a network too
      retry: (count, error) => error instanceof Unreachable && count < 5,
      refetchOnWindowFocus: true,
      staleTime: 2_000,
    },
    mutations: { networkMode: "always" },
  },
});

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <BrowserRouter>
        <Boundary what="Cavatum">
          <App />
        </Boundary>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);

// Keeps pages and the open run at hand without the network; only where the browser allows it (loopback or
// HTTPS).
if (import.meta.env.PROD && "serviceWorker" in navigator)
  void navigator.serviceWorker.register("/sw.js").catch(() => undefined);
