import { Ellipsis, History as HistoryIcon, Keyboard, Redo2, Undo2 } from "lucide-react";
import { useShow } from "@/core/commands/show";
import { useRedo, useUndo } from "@/core/commands/step";
import { openLayer } from "@/core/place/place";
import { Button } from "@/shared/ui/Button";
import { Hint } from "@/shared/ui/Hint";
import { Menu } from "@/shared/ui/Menu";

/** Undo, redo, and what was done; where there is little room, behind one button, with the keys. */
export function HistoryButtons() {
  const show = useShow().data;
  const undo = useUndo();
  const redo = useRedo();
  const toUndo = show?.toUndo;
  const toRedo = show?.toRedo;
  return (
    <>
      <div className="flex max-md:hidden">
        <Hint text={toUndo ? `Undo: ${toUndo.sentence} (Ctrl+Z)` : "Nothing to undo"}>
          <Button
            tone="quiet"
            square
            aria-label="Undo"
            icon={<Undo2 size={17} />}
            disabled={!toUndo || undo.isPending}
            onClick={() => undo.mutate()}
          />
        </Hint>
        <Hint text={toRedo ? `Redo: ${toRedo.sentence} (Ctrl+Shift+Z)` : "Nothing to redo"}>
          <Button
            tone="quiet"
            square
            aria-label="Redo"
            icon={<Redo2 size={17} />}
            disabled={!toRedo || redo.isPending}
            onClick={() => redo.mutate()}
          />
        </Hint>
        <Hint text="History: what was done, and by which window">
          <Button
            tone="quiet"
            square
            aria-label="History"
            icon={<HistoryIcon size={17} />}
            onClick={() => openLayer("history")}
          />
        </Hint>
      </div>
      <Menu
        trigger={
          <Button tone="quiet" square className="md:hidden" aria-label="Undo and more" icon={<Ellipsis size={17} />} />
        }
        items={[
          {
            words: "Undo",
            hint: toUndo?.sentence ?? "Nothing to undo",
            icon: <Undo2 size={15} aria-hidden="true" />,
            disabled: !toUndo || undo.isPending,
            onSelect: () => undo.mutate(),
          },
          {
            words: "Redo",
            hint: toRedo?.sentence ?? "Nothing to redo",
            icon: <Redo2 size={15} aria-hidden="true" />,
            disabled: !toRedo || redo.isPending,
            onSelect: () => redo.mutate(),
          },
          {
            words: "History …",
            icon: <HistoryIcon size={15} aria-hidden="true" />,
            onSelect: () => openLayer("history"),
          },
          { words: "All keys …", icon: <Keyboard size={15} aria-hidden="true" />, onSelect: () => openLayer("keys") },
        ]}
      />
    </>
  );
}
