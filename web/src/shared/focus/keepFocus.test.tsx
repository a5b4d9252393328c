import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { page, userEvent } from "vitest/browser";
import { render } from "vitest-browser-react";
import { keepFocus } from "./keepFocus";

let stop = () => {};
beforeEach(() => {
  stop = keepFocus();
});
afterEach(() => stop());

const focused = () => document.activeElement?.textContent;
const focus = (name: string) => (page.getByText(name, { exact: true }).element() as HTMLElement).focus();

function List({ names, disabled = "" }: { names: string[]; disabled?: string }) {
  return (
    <div>
      <button type="button">elsewhere</button>
      <ul>
        {names.map((name) => (
          <li key={name}>
            <button type="button" disabled={name === disabled}>
              {name}
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}

test.each([
  ["two", ["one", "three"], "three"],
  ["three", ["one", "two"], "two"],
  ["two", ["three"], "three"],
])("when %s goes, the one beside it has the focus", async (gone, left, next) => {
  const screen = await render(<List names={["one", "two", "three"]} />);
  focus(gone);
  await screen.rerender(<List names={left} />);
  await expect.poll(focused).toBe(next);
});

test("what can no longer be pressed hands the focus on as if it had gone", async () => {
  const screen = await render(<List names={["one", "two"]} />);
  focus("one");
  await screen.rerender(<List names={["one", "two"]} disabled="one" />);
  await expect.poll(focused).toBe("two");
});

test("when the whole list goes, the focus is where it was before it came into the list", async () => {
  const screen = await render(
    <div>
      <List names={["one", "two"]} />
    </div>,
  );
  focus("elsewhere");
  focus("two");
  await screen.rerender(
    <div>
      <div>
        <button type="button">elsewhere</button>
      </div>
    </div>,
  );
  // The button is another one by now; what nobody was at before is not entered.
  await expect.poll(() => document.activeElement === document.body || focused() === "elsewhere").toBe(true);
});

test("the same thing elsewhere, by its key, comes before what is beside it", async () => {
  const Here = ({ docked }: { docked: boolean }) => (
    <section>
      {docked || (
        <button type="button" data-focus="send/x">
          marker
        </button>
      )}
      <button type="button">beside</button>
      {docked && (
        <button type="button" data-focus="send/x">
          chip
        </button>
      )}
    </section>
  );
  const screen = await render(<Here docked={false} />);
  focus("marker");
  await screen.rerender(<Here docked />);
  await expect.poll(focused).toBe("chip");
});

test("who pressed where nothing takes the focus has left: what goes then moves nothing", async () => {
  const screen = await render(
    <>
      <p>plain words</p>
      <List names={["one", "two"]} />
    </>,
  );
  focus("one");
  await page.getByText("plain words").click();
  await screen.rerender(
    <>
      <p>plain words</p>
      <List names={["two"]} />
    </>,
  );
  await new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)));
  expect(document.activeElement).toBe(document.body);
});

test("the key that took the focus away does not press what gets it", async () => {
  const pressed = vi.fn();
  const Name = ({ editing, done }: { editing: boolean; done: () => void }) => (
    <ul>
      <li>
        {editing && <input aria-label="Name" onKeyDown={(e) => e.key === "Enter" && done()} />}
        <button type="button" onClick={pressed}>
          open
        </button>
      </li>
    </ul>
  );
  const screen = await render(<Name editing done={() => {}} />);
  await screen.rerender(<Name editing done={() => void screen.rerender(<Name editing={false} done={() => {}} />)} />);
  (page.getByLabelText("Name").element() as HTMLElement).focus();
  await userEvent.keyboard("{Enter}");
  await expect.poll(focused).toBe("open");
  expect(pressed).not.toHaveBeenCalled();
  await userEvent.keyboard("{Enter}");
  expect(pressed).toHaveBeenCalledTimes(1);
});
