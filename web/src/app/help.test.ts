import type { RouteObject } from "react-router";
import { expect, test, vi } from "vitest";
import { FIGURES } from "../help/figures";
import { HELP, helpOf } from "../help/pages";

vi.mock("../desk/desk", () => ({ Desk: () => null }));
vi.mock("./shell", () => ({ Shell: () => null }));

/** An address of every route there is. */
async function addresses(): Promise<string[]> {
  vi.stubGlobal("document", { title: "" });
  const made = vi.fn((routes: RouteObject[]) => routes);
  vi.doMock("react-router", async (actual) => ({ ...(await actual<object>()), createBrowserRouter: made }));
  await import("./router");
  const children = made.mock.calls[0]?.[0][0]?.children ?? [];
  return children
    .map((route) => (route.index ? "" : (route.path ?? "")))
    .filter((path) => path !== "*")
    .map((path) => `/${path.replace(/:\w+\?/, "1").replace(/:\w+/g, "1")}`);
}

test("every page has its help, and every help a page", async () => {
  const all = await addresses();
  expect(all.length).toBeGreaterThan(40);
  expect(all.filter((address) => !helpOf(address))).toEqual([]);
  expect(HELP.filter((page) => !all.some((address) => helpOf(address) === page)).map((page) => page.name)).toEqual([]);
});

test("a figure with the numbers of the page says nothing where there are none", () => {
  const none = { mean: null, sd: null, alpha: null, sem: null, max: 20 };
  const some = { mean: 10.7, sd: 4.5, alpha: 0.84, sem: 1.8, max: 20 };
  for (const figure of Object.values(FIGURES)) {
    expect(figure.here?.(none) ?? "").toBe("");
    expect(figure.here?.(some)).not.toBe("");
  }
});
