import { useState } from "react";
import { expect, test, vi } from "vitest";
import { page, userEvent } from "vitest/browser";
import { render } from "vitest-browser-react";
import { Refusal } from "@/core/api/client";
import { DialogForm } from "./DialogForm";
import { NameRow } from "./NameRow";
import { isTaken } from "./names";
import { RenameField } from "./RenameField";
import { Rows } from "./Row";

const others = [{ name: "Viewers" }];

function Add({
  onAdd,
  pending = false,
  error = null,
}: {
  onAdd: (n: string) => void;
  pending?: boolean;
  error?: Error | null;
}) {
  const [name, setName] = useState("");
  return (
    <DialogForm
      act="Add it"
      ready={name.trim() !== "" && !isTaken(name, others)}
      pending={pending}
      error={error}
      onSubmit={() => onAdd(name)}
      onCancel={() => {}}
    >
      <Rows>
        <NameRow value={name} others={others} of="mix" onChange={setName} />
      </Rows>
    </DialogForm>
  );
}

test("Enter does what can be done, and nothing where the name is missing, taken, or it is being done", async () => {
  const added = vi.fn();
  const screen = await render(<Add onAdd={added} />);
  const name = page.getByLabelText("Name");
  await name.click();
  await userEvent.keyboard("{Enter}");
  await name.fill(" viewers");
  await userEvent.keyboard("{Enter}");
  await expect.element(page.getByText("Another mix has this name")).toBeVisible();
  expect(name.element().getAttribute("aria-invalid")).toBe("true");
  expect(added).not.toHaveBeenCalled();
  await name.fill("Guest");
  await userEvent.keyboard("{Enter}");
  await screen.rerender(<Add onAdd={added} pending />);
  await userEvent.keyboard("{Enter}{Enter}");
  expect(added.mock.calls).toEqual([["Guest"]]);
});

test("what was refused says what is allowed", async () => {
  const error = new Refusal(422, [{ where: "name", what: "This name is cursed.", allowed: "another one" }]);
  await render(<Add onAdd={() => {}} error={error} />);
  await expect.element(page.getByRole("alert")).toHaveTextContent("This name is cursed. Allowed: another one.");
});

test.each([
  ["{Enter}", "Tide", ["Tide"]],
  ["{Tab}", "Tide", ["Tide"]],
  ["{Escape}", "Tide", [null]],
  ["{Enter}", "   ", [null]],
  ["{Enter}", "Lamp", [null]],
])("renaming in its place: %s after “%s”", async (key, typed, expected) => {
  const done = vi.fn();
  const keys = vi.fn();
  window.addEventListener("keydown", keys);
  await render(<RenameField label="Name of Lamp" name="Lamp" focusKey="x" onDone={done} />);
  await expect.poll(() => document.activeElement?.getAttribute("aria-label")).toBe("Name of Lamp");
  await userEvent.keyboard(`${typed}${key}`);
  await expect.poll(() => done.mock.calls[0]).toEqual(expected);
  // Escape closes the field, not the dialog round it.
  expect(keys.mock.calls.some(([e]) => e.key === "Escape")).toBe(false);
  window.removeEventListener("keydown", keys);
});
