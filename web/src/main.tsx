import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { setNonce } from "get-nonce";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App } from "./App";
import { Boundary } from "./ui/Boundary";
import { Unreachable } from "./api/client";
import { sessionQuery } from "./api/queries";
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

// The session is asked for meanwhile. The two faces of type come before the first page: one that came after it would
// move every key. A server too slow for them within three seconds is shown in the device's own type.
void client.prefetchQuery(sessionQuery);
const faces = ['14px "Public Sans Variable"', '500 30px "Newsreader Variable"'];
const areIn = Promise.allSettled(faces.map((one) => document.fonts.load(one)));
void Promise.race([areIn, new Promise((late) => setTimeout(late, 3000))]).then(() =>
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
  ),
);

// Keeps pages and the open run at hand without the network; only where the browser allows it (loopback or
// HTTPS).
if (import.meta.env.PROD && "serviceWorker" in navigator)
  void navigator.serviceWorker.register("/sw.js").catch(() => undefined);
