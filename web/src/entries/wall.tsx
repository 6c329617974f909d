import "../styles.css";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { WallWindow } from "../wall/wall-window";

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <WallWindow />
  </StrictMode>,
);
