import { ArrowLeft, ArrowRight, Copy, Trash2 } from "lucide-react";
import { useState } from "react";
import type { OrderNote, Processor, ProcessorType, Show } from "@/core/api/client";
import { showStage } from "@/core/place/place";
import {
  type ChainPlace,
  KeyChoice,
  ParameterRows,
  useChainStep,
  type useTurning,
  useValues,
} from "@/features/chains/parts";
import { Button } from "@/shared/ui/Button";
import { Choice } from "@/shared/ui/Choice";
import { Switch } from "@/shared/ui/Switch";
import { formsOfStage, HearRow } from "./Audition";
import { PlainRow } from "./PlainRow";

interface Props {
  show: Show;
  place: ChainPlace;
  processor: Processor;
  type: ProcessorType;
  index: number;
  count: number;
  notes: OrderNote[];
  turning: ReturnType<typeof useTurning>;
}

const forms = [
  { value: "plain", words: "In words" },
  { value: "full", words: "In numbers" },
] as const;

/** What can be set on the chosen processor: in words, or in numbers. Both show the same state. */
export function StageSettings({ show, place, processor, type, index, count, notes, turning }: Props) {
  const [form, setForm] = useState<"plain" | "full">(remembered);
  const values = useValues(processor, type);
  const step = useChainStep(place);
  const { set, turn, letGo } = turning;
  return (
    <section
      aria-label={`${type.name}: settings`}
      className="flex min-h-0 w-80 shrink-0 flex-col border-line border-l max-lg:w-72 max-md:w-full max-md:border-t max-md:border-l-0"
    >
      <header className="flex shrink-0 items-center gap-2 px-3 pt-2.5">
        <h2 className="min-w-0 grow truncate font-semibold">{type.name}</h2>
        <Choice
          label="Set it"
          value={form}
          options={forms}
          onChange={(to) => {
            remember(to);
            setForm(to);
          }}
        />
      </header>
      <div className="flex min-h-0 grow flex-col gap-2.5 overflow-auto px-3 py-2.5">
        <p className="text-xs text-quiet">{type.purpose}</p>
        {place.loop === undefined && (
          <HearRow
            show={show.id}
            place={place}
            processor={processor.id}
            name={type.name}
            forms={formsOfStage(place, processor, type, values)}
          />
        )}
        {notes.map((note) => (
          <p key={note.words} className="rounded-md border border-lamp bg-lamp/10 px-2 py-1.5 text-xs">
            {note.words}
          </p>
        ))}
        {place.loop !== undefined && processor.keys.length > 0 && (
          <p className="text-xs text-quiet">
            It listens to somebody else: on the bench, to what goes round beside the loop, or to nobody.
          </p>
        )}
        {place.loop === undefined && type.keyUse !== "None" && (form === "full" || type.keyUse === "Needed") && (
          <KeyChoice show={show} place={place} processor={processor} type={type} onChange={(keys) => set({ keys })} />
        )}
        {form === "plain" ? (
          type.plain.map((control) => (
            <PlainRow key={control.key} control={control} type={type} values={values} onTurn={turn} onLetGo={letGo} />
          ))
        ) : (
          <ParameterRows processor={processor} type={type} turning={turning} />
        )}
        <p className="text-xs text-quiet">Usually: {lower(type.usually)}</p>
        <p className="text-xs text-quiet">Overdone: {lower(type.overdone)}</p>
      </div>
      <footer className="flex shrink-0 items-center gap-1 border-line border-t px-3 py-1.5">
        <div className="grow">
          <Switch label="Bypass" on={processor.bypassed} onChange={(bypassed) => set({ bypassed })} />
        </div>
        <Button
          tone="quiet"
          square
          aria-label={`Move ${type.name} earlier`}
          title="Move it earlier"
          disabled={index === 0}
          icon={<ArrowLeft size={14} />}
          onClick={() => step.mutate({ kind: "move", processor: processor.id, index: index - 1 })}
        />
        <Button
          tone="quiet"
          square
          aria-label={`Move ${type.name} later`}
          title="Move it later"
          disabled={index === count - 1}
          icon={<ArrowRight size={14} />}
          onClick={() => step.mutate({ kind: "move", processor: processor.id, index: index + 1 })}
        />
        <Button
          tone="quiet"
          square
          aria-label={`Duplicate ${type.name}`}
          title="Duplicate it: another with the same settings, right after it"
          icon={<Copy size={14} />}
          disabled={step.isPending}
          onClick={() => step.mutate({ kind: "duplicate", processor: processor.id, index })}
        />
        <Button
          tone="quiet"
          square
          aria-label={`Remove ${type.name}`}
          title="Remove it"
          icon={<Trash2 size={14} />}
          disabled={step.isPending}
          onClick={() => {
            showStage(null);
            step.mutate({ kind: "remove", processor: processor.id });
          }}
        />
      </footer>
    </section>
  );
}

function lower(sentence: string): string {
  return sentence.charAt(0).toLowerCase() + sentence.slice(1);
}

const stored = "kinetra.voice.form";

function remembered(): "plain" | "full" {
  return localStorage.getItem(stored) === "full" ? "full" : "plain";
}

function remember(form: "plain" | "full") {
  localStorage.setItem(stored, form);
}
