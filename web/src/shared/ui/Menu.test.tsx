import { expect, test, vi } from "vitest";
import { page } from "vitest/browser";
import { render } from "vitest-browser-react";
import { Menu } from "./Menu";

const words = () =>
  page
    .getByRole("menuitem")
    .all()
    .map((i) => i.element().textContent);

test("nothing moves under the hand: what goes while it is open rests in its place, what comes is last", async () => {
  const chosen = vi.fn();
  const of = (...names: string[]) => (
    <Menu
      trigger={<button type="button">Open</button>}
      items={names.map((n) => ({ words: n, onSelect: () => chosen(n) }))}
    />
  );
  const screen = await render(of("Headset", "Laptop", "Monitor"));
  await page.getByRole("button", { name: "Open" }).click();
  await expect.element(page.getByRole("menu")).toBeVisible();
  await screen.rerender(of("Laptop", "Monitor", "Capture"));
  await expect.element(page.getByRole("menuitem", { name: "Capture" })).toBeVisible();
  expect(words()).toEqual(["Headset", "Laptop", "Monitor", "Capture"]);
  await expect.element(page.getByRole("menuitem", { name: "Headset" })).toHaveAttribute("aria-disabled", "true");
  await page.getByRole("menuitem", { name: "Laptop" }).click();
  expect(chosen.mock.calls).toEqual([["Laptop"]]);
  await page.getByRole("button", { name: "Open" }).click();
  await expect.poll(words).toEqual(["Laptop", "Monitor", "Capture"]);
});
