import { resolve } from "node:path";
import tailwind from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

// Three pages, three bundles: neither a student's phone nor the wall downloads the teacher's side.
export default defineConfig({
  base: "/static/",
  plugins: [react(), tailwind()],
  build: {
    assetsInlineLimit: 0,
    rolldownOptions: {
      input: { teacher: resolve("index.html"), student: resolve("student.html"), wall: resolve("wall.html") },
    },
  },
});
