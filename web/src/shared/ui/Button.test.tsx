import { expect, test, vi } from "vitest";
import { page, userEvent } from "vitest/browser";
import { render } from "vitest-browser-react";
import { Button } from "./Button";
import { Hint, HintProvider } from "./Hint";
import { OneOf } from "./OneOf";

function Bar({ busy, onPress }: { busy: boolean; onPress: () => void }) {
  return (
    <HintProvider delayDuration={0}>
      <Button>Hush</Button>
      <Button disabled={busy} onClick={onPress}>
        Record
      </Button>
      <Hint text="Cuts everything">
        <Button>Cut</Button>
      </Hint>
    </HintProvider>
  );
}

const button = (name: string) => page.getByRole("button", { name });
const has = (name: string) => document.activeElement === button(name).element();

test("while a press is answered, the button keeps the focus and a second press does nothing", async () => {
  const pressed = vi.fn();
  const screen = await render(<Bar busy={false} onPress={pressed} />);
  await button("Record").click();
  await screen.rerender(<Bar busy onPress={pressed} />);
  expect(button("Record").element().getAttribute("aria-disabled")).toBe("true");
  expect(has("Record")).toBe(true);
  await userEvent.keyboard("{Enter} ");
  (button("Record").element() as HTMLElement).click();
  expect(pressed).toHaveBeenCalledTimes(1);
  await screen.rerender(<Bar busy={false} onPress={pressed} />);
  await userEvent.keyboard("{Enter}");
  expect(pressed).toHaveBeenCalledTimes(2);
});

test("Enter in a form whose button rests sends nothing", async () => {
  const sent = vi.fn((e: React.FormEvent) => e.preventDefault());
  await render(
    <form onSubmit={sent}>
      <input aria-label="Name" />
      <Button type="submit" disabled>
        Add
      </Button>
    </form>,
  );
  await page.getByLabelText("Name").fill("Desk");
  await userEvent.keyboard("{Enter}");
  expect(sent).not.toHaveBeenCalled();
});

test("a choice that rests does not open, by press or by key", async () => {
  await render(<OneOf label="Number" value={1} options={[{ value: 1, words: "One" }]} disabled onChange={() => {}} />);
  const choice = button("Number: One");
  (choice.element() as HTMLElement).focus();
  await userEvent.keyboard("{ArrowDown}{Enter} ");
  await choice.click({ force: true });
  expect(page.getByRole("menu").elements()).toHaveLength(0);
});

test("a hint is told where keys brought the focus, and not where the program put it after a press", async () => {
  await render(<Bar busy={false} onPress={() => (button("Cut").element() as HTMLElement).focus()} />);
  await button("Record").click();
  await expect.poll(() => has("Cut")).toBe(true);
  expect(page.getByRole("tooltip").elements()).toHaveLength(0);
  await userEvent.keyboard("{Shift>}{Tab}{/Shift}{Tab}");
  await expect.element(page.getByRole("tooltip")).toHaveTextContent("Cuts everything");
});
