import { expect, test } from "vitest";
import { addressOf, type Place, placeOf } from "./place";

const places: Place[] = [
  { screen: "desk", view: "lanes", selection: null, stage: null, bench: null, layer: null },
  { screen: "takes", view: "lanes", selection: null, stage: null, bench: null, layer: "keys" },
  { screen: "air", view: "lanes", selection: null, stage: null, bench: null, layer: null },
  {
    screen: "desk",
    view: "table",
    selection: { kind: "send", mix: "viewers", source: "sea-mic" },
    stage: null,
    bench: null,
    layer: "cables",
  },
  { screen: "desk", view: "lanes", selection: { kind: "mix", mix: "my-ears" }, stage: null, bench: null, layer: null },
  {
    screen: "desk",
    view: "table",
    selection: { kind: "source", source: "a&b=c" },
    stage: null,
    bench: null,
    layer: "sound",
  },
  {
    screen: "paths",
    view: "lanes",
    selection: { kind: "end", point: "app/encoder/main" },
    stage: null,
    bench: null,
    layer: null,
  },
  {
    screen: "voice",
    view: "lanes",
    selection: { kind: "source", source: "host" },
    stage: "0af3",
    bench: null,
    layer: null,
  },
  { screen: "voice", view: "lanes", selection: null, stage: null, bench: "0199-ab", layer: null },
  {
    screen: "paths",
    view: "lanes",
    selection: { kind: "way", source: "host", point: "device/headset/out" },
    stage: null,
    bench: null,
    layer: "cards",
  },
];

test.each(places)("every place is found again by its address: $screen $view $selection $layer", (place) => {
  const address = new URL(addressOf(place), "http://localhost");
  expect(placeOf(address.pathname, address.search)).toEqual(place);
});

test("the plain Desk has the plain address", () => {
  expect(addressOf(placeOf("/", ""))).toBe("/");
});

test.each([
  "?at=",
  "?at=send/viewers",
  "?at=mix/a/b",
  "?at=nothing/x",
  "?at=source/a/b/c",
  "?at=end/app/x",
  "?at=end/nothing/x/y",
  "?at=way/host",
  "?at=way/host/app/x/",
  "?stage=A/B",
  "?open=door&view=upside-down",
])("an address that names nothing leads to the plain Desk: %s", (search) => {
  expect(addressOf(placeOf("/", search))).toBe("/");
});
