import { expect, test } from "vitest";
import { page, userEvent } from "vitest/browser";
import { render } from "vitest-browser-react";
import { firstStop, stop, useRoving } from "./roving";

function Rows({ rows }: { rows: string[][] }) {
  const roving = useRoving();
  return (
    <>
      <button type="button">before</button>
      <ul {...roving}>
        {rows.map((row) => (
          <li key={row[0]} data-row="">
            {row.map((name) => (
              <button key={name} type="button" {...(name === "b1" ? firstStop : stop)}>
                {name}
              </button>
            ))}
          </li>
        ))}
      </ul>
      <button type="button">after</button>
    </>
  );
}

const rows = [["a1", "a2", "a3"], ["b1", "b2"], ["c1"]];
const focused = () => document.activeElement?.textContent;

async function press(...keys: string[]) {
  for (const key of keys) await userEvent.keyboard(`{${key}}`);
}

test("a group is one Tab stop, entered where it says, and then where the focus was last", async () => {
  await render(<Rows rows={rows} />);
  await page.getByText("before").element().focus();
  await userEvent.tab();
  expect(focused()).toBe("b1");
  await press("ArrowRight");
  expect(focused()).toBe("b2");
  await userEvent.tab();
  expect(focused()).toBe("after");
  await userEvent.tab({ shift: true });
  expect(focused()).toBe("b2");
});

test("up and down go by rows, left and right along them and on, Home and End to the ends", async () => {
  await render(<Rows rows={rows} />);
  (page.getByText("a3").element() as HTMLElement).focus();
  await press("ArrowDown");
  expect(focused()).toBe("b2");
  await press("ArrowDown");
  expect(focused()).toBe("c1");
  await press("ArrowDown");
  expect(focused()).toBe("c1");
  await press("ArrowLeft");
  expect(focused()).toBe("b2");
  await press("Home");
  expect(focused()).toBe("a1");
  await press("End");
  expect(focused()).toBe("c1");
});

test("where the one that Tab enters at has gone, another is entered", async () => {
  const screen = await render(<Rows rows={rows} />);
  (page.getByText("c1").element() as HTMLElement).focus();
  (page.getByText("before").element() as HTMLElement).focus();
  await screen.rerender(<Rows rows={[["a1"], ["b2"]]} />);
  await userEvent.tab();
  expect(focused()).toBe("a1");
});
