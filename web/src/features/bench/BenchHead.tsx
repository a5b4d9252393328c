import { ArrowLeft, ChevronDown, Pencil, Trash2, User } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Loop, Show, Source } from "@/core/api/client";
import { showBench } from "@/core/place/place";
import { clock, decimal } from "@/shared/look/format";
import { SourceSign } from "@/shared/look/sources";
import { Button } from "@/shared/ui/Button";
import { Confirm } from "@/shared/ui/Dialog";
import { Menu } from "@/shared/ui/Menu";
import { newLoop, useLoopChange, useRemoveLoop } from "./loops";

interface Props {
  show: Show;
  source: Source;
  loops: Loop[];
  loop: Loop | undefined;
}

/** Which loop is on the bench, and the way back to the live sound. */
export function BenchHead({ show, source, loops, loop }: Props) {
  const remove = useRemoveLoop(show.id);
  return (
    <header className="flex min-h-11 shrink-0 flex-wrap items-center gap-x-2 gap-y-1 border-line border-b px-3 py-1">
      <Button className="h-8" icon={<ArrowLeft size={14} />} onClick={() => showBench(null)}>
        Live
      </Button>
      <h1 className="flex items-center gap-1.5 text-[13px] font-semibold">
        <SourceSign source={source} />
        <span className="max-w-52 truncate">{source.name}</span>
        <span className="font-normal text-quiet">on the bench{besideWords(show, loop)}</span>
      </h1>
      {loops.length > 0 && (
        <Menu
          trigger={
            <Button className="h-8 max-w-60 min-w-0" aria-label={`Which loop: ${loop?.name ?? "another"}`}>
              <span className="truncate">{loop?.name ?? "Another loop"}</span>
              <ChevronDown size={14} />
            </Button>
          }
          title="Loops of this source"
          items={[
            ...loops.map((l) => ({
              words: l.name,
              hint: `${decimal(l.seconds)} s, taken at ${clock(l.takenAt)}`,
              chosen: l.id === loop?.id,
              onSelect: () => showBench(l.id),
            })),
            { words: "Another loop …", onSelect: () => showBench(newLoop) },
          ]}
        />
      )}
      {loop && (
        <>
          <LoopName show={show.id} loop={loop} />
          <Confirm
            trigger={
              <Button
                tone="quiet"
                square
                aria-label={`Remove the loop ${loop.name}`}
                title="Remove this loop"
                disabled={remove.isPending}
                icon={<Trash2 size={14} />}
              />
            }
            title={`Remove “${loop.name}”?`}
            words="Its sound and its variants are gone then. The source and its chain stay as they are."
            action="Remove it"
            onConfirm={() => remove.mutate(loop.id, { onSuccess: () => showBench(newLoop) })}
          />
        </>
      )}
      <span
        className="ml-auto flex items-center gap-1 text-xs text-quiet"
        title="What goes round here, only this window hears; the show goes on with the live sound"
      >
        <User size={12} aria-hidden="true" /> for you alone
      </span>
    </header>
  );
}

/** Who is heard beside it, as they were heard then. */
function besideWords(show: Show, loop: Loop | undefined): string {
  if (!loop || loop.beside.length === 0) return "";
  const mix = show.mixes.find((m) => m.id === loop.mix)?.name;
  return `, with ${loop.beside.map((id) => show.sources.find((s) => s.id === id)?.name ?? "one who is gone").join(" and ")} beside it${mix ? `, as in ${mix}` : ""}`;
}

/** The loop's name, to be changed where it stands. */
function LoopName({ show, loop }: { show: string; loop: Loop }) {
  const change = useLoopChange(show, loop.id);
  return (
    <Named label="The loop’s name" name={loop.name} onChange={(name) => change.mutate({ kind: "rename", name })} />
  );
}

/** A name that is changed in a field that opens in its place. */
export function Named({ label, name, onChange }: { label: string; name: string; onChange: (name: string) => void }) {
  const [text, setText] = useState<string | null>(null);
  const back = useRef<HTMLSpanElement>(null);
  const byKey = useRef(false);
  // Who leaves the field by a key is where it was entered.
  useEffect(() => {
    if (text !== null || !byKey.current) return;
    byKey.current = false;
    back.current?.querySelector("button")?.focus();
  }, [text]);
  if (text === null)
    return (
      <span ref={back}>
        <Button
          tone="quiet"
          square
          aria-label={`Change ${label.charAt(0).toLowerCase()}${label.slice(1)}`}
          title="Give it another name"
          icon={<Pencil size={13} />}
          onClick={() => setText(name)}
        />
      </span>
    );
  const store = () => {
    if (text.trim() && text.trim() !== name) onChange(text.trim());
    setText(null);
  };
  return (
    <input
      aria-label={label}
      value={text}
      maxLength={60}
      // biome-ignore lint/a11y/noAutofocus: it was asked for just now
      autoFocus
      onFocus={(e) => e.target.select()}
      onChange={(e) => setText(e.target.value)}
      onBlur={store}
      onKeyDown={(e) => {
        e.stopPropagation();
        byKey.current = e.key === "Enter" || e.key === "Escape";
        // Or the button that is focused next would take the same key.
        if (byKey.current) e.preventDefault();
        if (e.key === "Enter") store();
        if (e.key === "Escape") setText(null);
      }}
      className="h-7 w-40 rounded border border-strong bg-ground px-1.5 text-[13px]"
    />
  );
}
