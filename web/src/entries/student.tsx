import "../styles.css";
import { lazy, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { Seat } from "../student/seat";

const OwnPage = lazy(async () => ({ default: (await import("../portal/own-page")).OwnPage }));
const own = location.pathname.startsWith("/mine");

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    {own ? (
      <Suspense fallback={null}>
        <OwnPage />
      </Suspense>
    ) : (
      <Seat />
    )}
  </StrictMode>,
);
