import { expect, marker, openDesk, sourceItem, test } from "./support/fixtures.ts";
import { record, rms } from "./support/sound.ts";

test("a show is opened while it sounds; whoever listens stays with the same listener", async ({ page, own }) => {
  await openDesk(page, own);
  await page.getByRole("button", { name: "Listen to Guest hears" }).click();
  await page.getByRole("button", { name: /^The Lamp Room/ }).click();
  await page.getByRole("button", { name: "Open Tide Tables" }).click();
  await expect(page.getByRole("dialog").getByText("Live", { exact: true })).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: /^Tide Tables/ })).toBeVisible();
  await own.step(1);
  await expect(marker(page, "Second mic", "Recording")).toBeVisible();
  await expect(page.getByText("You hear Caller hears")).toBeVisible();
  const tracks = await record(page, own, 2);
  expect(rms(tracks("Recording").left)).toBeGreaterThan(-60);
  await page.getByRole("button", { name: /^Tide Tables/ }).click();
  await page.getByRole("button", { name: "Open The Lamp Room" }).click();
  await page.keyboard.press("Escape");
  await expect(marker(page, "Skerry Keeper", "Viewers")).toHaveAttribute("aria-valuenow", "-6");
});

test("a show is made, copied, renamed, deleted and brought back", async ({ page, own }) => {
  await openDesk(page, own);
  await page.getByRole("button", { name: /^The Lamp Room/ }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("button", { name: "New show" }).click();
  await expect(dialog.getByText("0 sources, 4 mixes")).toBeVisible();
  await dialog.getByRole("button", { name: "Duplicate Tide Tables" }).click();
  await dialog.getByRole("button", { name: "Rename Tide Tables 2" }).click();
  await dialog.getByRole("textbox", { name: "Name of Tide Tables 2" }).fill("Spring tide");
  await page.keyboard.press("Enter");
  await expect(dialog.getByRole("button", { name: "Rename Spring tide" })).toBeFocused();
  await dialog.getByRole("button", { name: "Delete Spring tide" }).click();
  await expect(dialog.getByRole("button", { name: "Open Spring tide" })).toHaveCount(0);
  await dialog.getByRole("region", { name: "Deleted shows" }).getByRole("button", { name: "Bring back" }).click();
  await expect(dialog.getByRole("button", { name: "Open Spring tide" })).toBeVisible();
  await expect(dialog.getByRole("button", { name: "The Lamp Room is live and cannot be deleted" })).toBeDisabled();
  await dialog.getByRole("button", { name: "Open New show" }).click();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("heading", { name: "Nothing sounds yet" })).toBeVisible();
});

test("mixes are added, ordered and removed, and all of it is undone", async ({ page, own }) => {
  await openDesk(page, own);
  const lanes = () =>
    page.getByRole("region", { name: /^What .* gets$/ }).evaluateAll((e) => e.map((r) => r.ariaLabel));
  const before = await lanes();
  await page.getByRole("button", { name: "Add a mix" }).click();
  await page.getByRole("textbox", { name: "Name" }).fill("Harbour hall");
  await page.getByRole("combobox", { name: "Begins as" }).selectOption({ label: "A copy of Viewers" });
  await page.getByRole("button", { name: "Add it" }).click();
  await expect(marker(page, "Guest call", "Harbour hall")).toHaveAttribute("aria-valuenow", "5");
  await page.getByRole("button", { name: "Harbour hall", exact: true }).click();
  await page.getByRole("button", { name: "Up", exact: true }).click();
  await expect.poll(lanes).toEqual([before[0], before[1], "What Harbour hall gets", before[2]]);
  await page.getByRole("button", { name: "My ears", exact: true }).click();
  await page.getByRole("button", { name: "Remove this mix" }).click();
  await page.getByRole("alertdialog").getByRole("button", { name: "Remove it" }).click();
  await expect.poll(lanes).toEqual([before[1], "What Harbour hall gets", before[2]]);
  for (let steps = 0; steps < 3; steps++) {
    await expect(page.getByRole("button", { name: "Undo" })).toBeEnabled();
    await page.getByRole("button", { name: "Undo" }).click();
    await expect
      .poll(async () => ((await own.get("/api/shows/live")) as { revision: number }).revision)
      .toBe(4 + steps);
  }
  await expect.poll(lanes).toEqual(before);
});

test("sources are ordered, and carry the icon that is chosen", async ({ page, own }) => {
  await openDesk(page, own);
  await sourceItem(page, "Record shelf").getByRole("button", { name: "Record shelf", exact: true }).click();
  await page.getByRole("button", { name: "Icon: piano" }).click();
  await expect(page.getByRole("button", { name: "Icon: piano" })).toHaveAttribute("aria-pressed", "true");
  await page.getByRole("button", { name: "Up", exact: true }).click();
  const order = () =>
    page
      .getByRole("region", { name: "Sources" })
      .getByRole("listitem")
      .evaluateAll((e) => e.map((li) => (li as HTMLElement).dataset.source));
  await expect.poll(order).toEqual(["host-mic", "sea-mic", "guest-call", "crew-talk", "record-shelf", "skerry-keeper"]);
  await expect
    .poll(async () => ((await own.get("/api/shows/live")) as { sources: { id: string }[] }).sources[4]?.id)
    .toBe("record-shelf");
  await page.reload();
  await expect.poll(order).toContain("record-shelf");
  expect((await order()).indexOf("record-shelf")).toBe(4);
});
