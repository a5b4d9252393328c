import { Check, Ear, Plus, Trash2 } from "lucide-react";
import { useEffect } from "react";
import type { ChainPreset, Loop } from "@/core/api/client";
import { useKeySettings } from "@/core/hands/bindings";
import { listen, useListening } from "@/features/listen";
import { PresetMenu } from "@/features/voice/parts";
import { Button } from "@/shared/ui/Button";
import { Confirm } from "@/shared/ui/Dialog";
import { Menu } from "@/shared/ui/Menu";
import { Named } from "./BenchHead";
import { plain, useApply, useLoopChange } from "./loops";

const most = 8;

interface Props {
  show: string;
  source: string;
  loop: Loop;
  presets: ChainPreset[];
  chosen: string;
  onChoose: (variant: string) => void;
}

/** The variants of a loop: one is heard and worked on. From one to another it turns at the same moment of the loop. */
export function Variants({ show, source, loop, presets, chosen, onChoose }: Props) {
  const change = useLoopChange(show, loop.id);
  const apply = useApply(loop.id, source);
  const heard = useListening((s) => (s.wish.bench?.loop === loop.id ? s.wish.bench.variant : undefined));
  const single = useKeySettings((s) => s.single);
  const all = [{ id: plain, name: "Without" }, ...loop.variants.map(({ id, name }) => ({ id, name }))];
  const hear = (id: string) => {
    if (id !== plain) onChoose(id);
    const name = all.find((v) => v.id === id)?.name ?? "";
    void listen(heard === id ? {} : { bench: { loop: loop.id, variant: id } }, `${loop.name}: ${name}`);
  };
  // One that is gone is not heard any more.
  const gone = heard !== undefined && !all.some((v) => v.id === heard);
  useEffect(() => {
    if (gone) void listen({});
  }, [gone]);
  // The digits, wherever nothing else takes them.
  useEffect(() => {
    if (!single) return;
    const press = (e: globalThis.KeyboardEvent) => {
      if (e.ctrlKey || e.metaKey || e.altKey || e.shiftKey || e.repeat || !/^[1-9]$/.test(e.key)) return;
      const at = e.target instanceof Element ? e.target : document.body;
      if (at.closest("input, textarea, select, [contenteditable], [role=dialog], [role=alertdialog], [role=menu]"))
        return;
      const to = all[Number(e.key) - 1];
      // Elsewhere they turn to the mixes; here nobody should leave the bench by them.
      e.stopImmediatePropagation();
      if (to) hear(to.id);
    };
    window.addEventListener("keydown", press, { capture: true });
    return () => window.removeEventListener("keydown", press, { capture: true });
  });
  const variant = loop.variants.find((v) => v.id === chosen);
  return (
    <div className="flex min-w-0 flex-wrap items-center gap-1.5">
      <fieldset className="flex min-w-0 flex-wrap items-center gap-1">
        <legend className="sr-only">Hear, for yourself alone</legend>
        <Ear size={14} className={heard ? "text-lamp-ink" : "text-quiet"} aria-hidden="true" />
        {all.map((v, n) => (
          <button
            key={v.id}
            type="button"
            aria-pressed={v.id === heard}
            aria-current={v.id === chosen || undefined}
            title={`Hear it, for yourself alone; the same again stops. Key ${n + 1}`}
            onClick={() => hear(v.id)}
            className={`flex h-8 max-w-44 items-center gap-1.5 rounded-md border px-2 text-[13px] ${v.id === heard ? "border-lamp bg-lamp/10 text-lamp-ink" : v.id === chosen ? "border-strong bg-raised" : "border-line bg-raised hover:border-strong"}`}
          >
            <span className="text-xs text-quiet" aria-hidden="true">
              {n + 1}
            </span>
            <span className="truncate">{v.name}</span>
          </button>
        ))}
      </fieldset>
      <Menu
        trigger={
          <Button className="h-8" icon={<Plus size={14} />} disabled={loop.variants.length >= most || change.isPending}>
            Variant
          </Button>
        }
        title={`Up to ${most} side by side`}
        items={[
          ...(variant
            ? [
                {
                  words: `A copy of ${variant.name}`,
                  onSelect: () =>
                    change.mutate(
                      { kind: "add", copyOf: variant.id },
                      { onSuccess: (now) => onChoose(now.variants.at(-1)?.id ?? chosen) },
                    ),
                },
              ]
            : []),
          {
            words: "As the source is now",
            onSelect: () =>
              change.mutate({ kind: "add" }, { onSuccess: (now) => onChoose(now.variants.at(-1)?.id ?? chosen) }),
          },
          ...presets.map((p) => ({
            words: p.name,
            hint: p.says,
            group: "Presets",
            onSelect: () =>
              change.mutate(
                { kind: "add", preset: p.key },
                { onSuccess: (now) => onChoose(now.variants.at(-1)?.id ?? chosen) },
              ),
          })),
        ]}
      />
      {variant && (
        <>
          <Button
            className="h-8"
            icon={<Check size={14} />}
            disabled={apply.isPending}
            title={`For everybody who hears ${source}, as one step that can be taken back`}
            onClick={() => apply.mutate({ variant: variant.id, name: variant.name })}
          >
            Put “{variant.name.length > 16 ? `${variant.name.slice(0, 15)}…` : variant.name}” on air
          </Button>
          <PresetMenu place={{ loop: loop.id, source: variant.id }} chain={variant.chain} presets={presets} />
          <Named
            key={variant.id}
            label="The variant’s name"
            name={variant.name}
            onChange={(name) => change.mutate({ kind: "renameVariant", variant: variant.id, name })}
          />
          <Confirm
            trigger={
              <Button
                tone="quiet"
                square
                aria-label={`Remove the variant ${variant.name}`}
                title="Remove this variant"
                disabled={change.isPending}
                icon={<Trash2 size={14} />}
              />
            }
            title={`Remove “${variant.name}”?`}
            words="Its chain is gone then. The loop, the other variants and the source stay as they are."
            action="Remove it"
            onConfirm={() => change.mutate({ kind: "removeVariant", variant: variant.id })}
          />
        </>
      )}
    </div>
  );
}
