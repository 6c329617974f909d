import { i18n } from "@lingui/core";
import { I18nProvider } from "@lingui/react";
import "../styles.css";
import { lazy, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { Seat } from "../student/seat";

const OwnPage = lazy(async () => ({ default: (await import("../portal/own-page")).OwnPage }));
const own = location.pathname.startsWith("/mine");

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <I18nProvider i18n={i18n}>
      {own ? (
        <Suspense fallback={null}>
          <OwnPage />
        </Suspense>
      ) : (
        <Seat />
      )}
    </I18nProvider>
  </StrictMode>,
);
