import "../styles.css";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { Seat } from "./seat";

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <Seat />
  </StrictMode>,
);
