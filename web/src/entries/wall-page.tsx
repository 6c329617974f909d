import { i18n } from "@lingui/core";
import { I18nProvider } from "@lingui/react";
import "../styles.css";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { WallWindow } from "../wall/wall-window";

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <I18nProvider i18n={i18n}>
      <WallWindow />
    </I18nProvider>
  </StrictMode>,
);
