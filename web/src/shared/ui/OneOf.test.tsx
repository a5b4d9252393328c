import { expect, test, vi } from "vitest";
import { page, userEvent } from "vitest/browser";
import { render } from "vitest-browser-react";
import { OneOf } from "./OneOf";

const options = [
  { value: 1, words: "One", group: "Odd" },
  { value: 3, words: "Three", group: "Odd" },
  { value: 2, words: "Two", group: "Even" },
];

test("arrows and letters on it while it is closed change nothing; opened, one is chosen", async () => {
  const changed = vi.fn();
  await render(<OneOf label="Number" value={1} options={options} onChange={changed} />);
  const button = page.getByRole("button", { name: "Number: One" });
  (button.element() as HTMLElement).focus();
  await userEvent.keyboard("t");
  await userEvent.keyboard("{ArrowUp}");
  expect(changed).not.toHaveBeenCalled();
  await userEvent.keyboard("{Enter}");
  await expect.element(page.getByRole("menu")).toBeVisible();
  await expect.element(page.getByText("Even")).toBeVisible();
  await page.getByRole("menuitem", { name: "Two" }).click();
  expect(changed.mock.calls).toEqual([[2]]);
  await expect.poll(() => document.activeElement).toBe(button.element());
});

test("where nothing is chosen, it says what it is for", async () => {
  await render(<OneOf label="Number" empty="Choose a number …" options={options} onChange={() => {}} />);
  await expect.element(page.getByRole("button", { name: "Number" })).toHaveTextContent("Choose a number …");
});
