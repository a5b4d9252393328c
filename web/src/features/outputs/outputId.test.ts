import { expect, it } from "vitest";
import { outputId } from "./outputId";

it("an output is the same device here and at the server, of both of its names", () => {
  // What the server's own test expects of the same names.
  expect(outputId("a browser", "an output")).toBe("browser-895500ace5862252");
  expect(outputId("a", "b")).not.toBe(outputId("b", "a"));
});
