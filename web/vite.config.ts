import { resolve } from "node:path";
import { transformAsync } from "@babel/core";
import { lingui } from "@lingui/vite-plugin";
import tailwind from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import type { Plugin } from "vite";
import { defineConfig } from "vitest/config";

/** What stands in the code as words becomes a look into the catalogue of the reader's language. */
const words: Plugin = {
  name: "words-by-catalogue",
  enforce: "pre",
  async transform(code, id) {
    const file = id.split("?")[0] ?? id;
    if (!/\.tsx?$/.test(file) || !code.includes("@lingui/")) return null;
    const made = await transformAsync(code, {
      filename: file,
      babelrc: false,
      configFile: false,
      sourceMaps: true,
      parserOpts: { plugins: ["typescript", "jsx"] },
      plugins: ["@lingui/babel-plugin-lingui-macro"],
    });
    return made?.code ? { code: made.code, map: made.map ?? null } : null;
  },
};

// Three pages, three bundles: neither a student's phone nor the wall downloads the teacher's side.
export default defineConfig({
  base: "/static/",
  plugins: [words, react(), tailwind(), lingui({ failOnMissing: true })],
  build: {
    assetsInlineLimit: 0,
    rolldownOptions: {
      input: {
        teacher: resolve("index.html"),
        student: resolve("student.html"),
        wall: resolve("wall.html"),
        "student-worker": resolve("src/entries/student-worker.ts"),
      },
      // A browser looks for a service worker under the address it had, and asks there for the newest.
      output: {
        entryFileNames: ({ name }) => (name === "student-worker" ? "student-worker.js" : "assets/[name]-[hash].js"),
      },
    },
  },
  test: { setupFiles: ["src/language/setup-tests.ts"] },
});
