import { i18n } from "@lingui/core";
import { I18nProvider } from "@lingui/react";
import "../styles.css";
import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { RouterProvider } from "react-router";
import { Refused } from "../api/client";
import { FreshClient } from "../api/fresh-client";
import { router } from "../app/router";
import { UndoProvider } from "../ui/undo";

const client = new FreshClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      // A refusal is an answer; only a lost connection is worth another try.
      retry: (tries, error) => tries < 2 && error instanceof Refused && error.status === 0,
    },
  },
});

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <I18nProvider i18n={i18n}>
      <QueryClientProvider client={client}>
        <UndoProvider>
          <RouterProvider router={router} />
        </UndoProvider>
      </QueryClientProvider>
    </I18nProvider>
  </StrictMode>,
);
