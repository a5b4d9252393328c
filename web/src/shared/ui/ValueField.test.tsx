import { expect, test, vi } from "vitest";
import { page, userEvent } from "vitest/browser";
import { render } from "vitest-browser-react";
import { ValueField } from "./ValueField";

function field(value: number, onChange: (value: number) => void, onEscape = () => {}) {
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: it stands for what would close by Escape
    <div onKeyDown={(e) => e.key === "Escape" && onEscape()}>
      <ValueField
        label="Gain"
        value={value}
        show={(v) => `${v} dB`}
        read={(text) => {
          const number = Number.parseFloat(text);
          return number >= -12 && number <= 12 ? number : null;
        }}
        allowed="−12 to 12 dB"
        step={(v, by) => v + by}
        onChange={onChange}
      />
    </div>
  );
}

const input = () => page.getByLabelText("Gain");

test("what is typed is taken by Enter and by leaving, once, and not where it is what stands there", async () => {
  const changed = vi.fn();
  await render(field(1, changed));
  await input().fill("3");
  await userEvent.keyboard("{Enter}");
  expect(changed.mock.calls).toEqual([[3]]);
  await input().fill("1");
  await userEvent.tab();
  expect(changed).toHaveBeenCalledTimes(1);
});

test("Escape takes back what was typed and closes nothing; pressed again, it is for what holds the field", async () => {
  const [changed, escaped] = [vi.fn(), vi.fn()];
  await render(field(1, changed, escaped));
  await input().fill("3");
  await userEvent.keyboard("{Escape}");
  await expect.element(input()).toHaveValue("1 dB");
  expect(escaped).not.toHaveBeenCalled();
  await userEvent.keyboard("{Escape}");
  expect(escaped).toHaveBeenCalledTimes(1);
  expect(changed).not.toHaveBeenCalled();
});

test("what cannot be is said with what is allowed, and changes nothing", async () => {
  const changed = vi.fn();
  await render(field(1, changed));
  await input().fill("99");
  await userEvent.keyboard("{Enter}");
  await expect.element(page.getByRole("alert")).toHaveTextContent("Allowed: −12 to 12 dB.");
  expect(changed).not.toHaveBeenCalled();
});

test("an arrow that is held is one change, made when it is let go", async () => {
  const changed = vi.fn();
  await render(field(1, changed));
  (input().element() as HTMLElement).focus();
  await userEvent.keyboard("{ArrowUp>3}");
  expect(changed).not.toHaveBeenCalled();
  await userEvent.keyboard("{/ArrowUp}");
  expect(changed.mock.calls).toEqual([[4]]);
});

test("another value from elsewhere is shown, but not over what is being typed", async () => {
  const screen = await render(field(1, () => {}));
  await input().fill("3");
  await screen.rerender(field(7, () => {}));
  await expect.element(input()).toHaveValue("3");
  await userEvent.keyboard("{Escape}");
  await expect.element(input()).toHaveValue("7 dB");
});

test("Enter sends no form around it, least of all with what could not be read", async () => {
  const sent = vi.fn();
  await render(
    <form
      onSubmit={(e) => {
        e.preventDefault();
        sent();
      }}
    >
      {field(0, () => {})}
      <button type="submit">Send</button>
    </form>,
  );
  await input().fill("99");
  await userEvent.keyboard("{Enter}");
  await expect.element(page.getByRole("alert")).toHaveTextContent("Allowed: −12 to 12 dB.");
  expect(sent).not.toHaveBeenCalled();
});
