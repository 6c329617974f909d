import { expect, test } from "vitest";
import { folded } from "./folded";

test("a name is found as it is typed in a hurry, and other scripts keep their vowels", () => {
  expect(folded("Søren Núñez-Łódź")).toBe("soren nunez-lodz");
  expect(folded("İpek Weiß")).toBe("ipek weiss");
  expect(folded("தமிழ்ச்செல்வி")).toBe("தமிழ்ச்செல்வி");
  expect(folded("한국어 ที่")).toBe("한국어 ที่");
});
