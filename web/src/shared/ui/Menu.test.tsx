import { expect, test, vi } from "vitest";
import { render } from "vitest-browser-react";
import { Menu } from "./Menu";

const key = (name: string) =>
  document.activeElement?.dispatchEvent(new KeyboardEvent("keydown", { key: name, bubbles: true, cancelable: true }));

test("arrows and Enter in one breath choose what the arrows went to", async () => {
  const chosen = vi.fn();
  const screen = await render(
    <Menu
      trigger={<button type="button">Open</button>}
      items={["one", "two", "three"].map((words) => ({ words, onSelect: () => chosen(words) }))}
    />,
  );
  (screen.getByRole("button").element() as HTMLElement).focus();
  key("Enter");
  await expect.poll(() => document.activeElement?.textContent).toBe("one");
  for (const name of ["ArrowDown", "ArrowDown", "ArrowUp", "Enter"]) key(name);
  expect(chosen.mock.calls).toEqual([["two"]]);
});
