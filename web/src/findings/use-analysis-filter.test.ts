import { expect, test } from "vitest";
import { readScope, scopeQuery, toggled } from "./use-analysis-filter";

test("an address says how figures are looked at, and reads back as it was said", () => {
  const scope = { share: 33 as const, without: ["a", "b"], out: [4], also: [7, 8] };
  const address = new URLSearchParams(scopeQuery(scope));
  expect(address.toString()).toBe("share=33&without=a%2Cb&out=4&also=7%2C8");
  expect(readScope(address)).toEqual(scope);
});

test("the sitting as it is adds nothing to the address, and nonsense in it is the sitting as it is", () => {
  const plain = readScope(new URLSearchParams("share=90&out=,x,&without=,"));
  expect(plain).toEqual({ share: 27, without: [], out: [], also: [] });
  expect(scopeQuery(plain)).toEqual({});
});

test("a tick is put and taken away", () => {
  expect(toggled([1, 2], 3)).toEqual([1, 2, 3]);
  expect(toggled([1, 2], 1)).toEqual([2]);
});
