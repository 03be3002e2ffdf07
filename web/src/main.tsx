import "./theme/theme.scss";
import { notifyManager, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { Refused } from "./api/client";
import { App, loadLater } from "./app";
import { listenToKeys } from "./keys/useCommands";
import { NoticesProvider } from "./notices/notices";
import { Entrance } from "./people/Entrance";

// An answer is drawn as soon as it is there, and does not wait for a timer.
notifyManager.setScheduler(queueMicrotask);

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      // Whether the browser thinks that it is online says nothing of a server on this machine.
      networkMode: "always",
      // A refusal is an answer; only silence is worth asking again.
      retry: (count, error) => !(error instanceof Refused) && count < 2,
    },
  },
});

listenToKeys();
loadLater();

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        <BrowserRouter>
          <NoticesProvider>
            <Entrance>
              <App />
            </Entrance>
          </NoticesProvider>
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  );
}
