import { Check, Copy, KeyRound, PictureInPicture2, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Show } from "@/core/api/client";
import { openLayer } from "@/core/place/place";
import { clock } from "@/shared/look/format";
import { scales, showAt, useScale } from "@/shared/look/scale";
import { Button } from "@/shared/ui/Button";
import { Confirm } from "@/shared/ui/Dialog";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { OneOf } from "@/shared/ui/OneOf";
import { Failed, Loading } from "@/shared/ui/State";
import { ValueField } from "@/shared/ui/ValueField";
import { ControllersPart } from "./ControllersPart";
import { useHands, useMakeToken, useOscWished, useRemoveToken, useSetOsc } from "./hands";
import { SecondScreen } from "./SecondScreen";
import { toggleSmallWindow, useSmallWindow } from "./small";
import { Way } from "./Way";

/** All ways by which somebody reaches Kinetra whose hands are elsewhere; each is off until it is switched on. */
export function HandsDialog({ show }: { show: Show }) {
  const hands = useHands();
  return (
    <LayerDialog
      title="Hands"
      words="Ways to reach Kinetra while your hands, or the focus, are elsewhere. All do the same actions, by the same addresses. Each is off until you switch it on."
      wide
    >
      {hands.isError ? (
        <Failed error={hands.error} retry={() => void hands.refetch()} />
      ) : hands.data ? (
        <div className="flex flex-col gap-5">
          <Way title="Keys" words="They act while a Kinetra window has the focus.">
            <Button onClick={() => openLayer("keys")}>All keys</Button>
          </Way>
          <NearBy />
          <ControllersPart show={show} />
          <Messages osc={hands.data.osc} />
          <Commands hasToken={hands.data.hasToken} />
          <SecondScreen show={show} />
        </div>
      ) : (
        <Loading what="the ways for hands" />
      )}
    </LayerDialog>
  );
}

type Osc = NonNullable<ReturnType<typeof useHands>["data"]>["osc"];

function Messages({ osc }: { osc: Osc }) {
  const set = useSetOsc();
  const wished = useOscWished(osc);
  return (
    <Way
      title="Messages: Open Sound Control"
      words="Programs and devices on this machine send them over UDP; other machines cannot. Which addresses there are: docs/control.md."
    >
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2 text-[13px]">
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={wished.on}
            onChange={(e) => set.mutate({ on: e.target.checked })}
            className="size-4 accent-ink"
          />
          Listen for messages
        </label>
        <ValueField
          label="Port"
          value={wished.port}
          show={String}
          read={(text) => {
            const port = /^\d{4,5}$/.test(text.trim()) ? Number(text) : 0;
            return port >= 1024 && port <= 65535 ? port : null;
          }}
          allowed="A number from 1024 to 65535."
          onChange={(port) => set.mutate({ on: wished.on, port })}
        />
      </div>
      <p className="mt-1 text-xs">
        {osc.problem ? (
          <span className="text-wrong">{osc.problem} Another port may be free.</span>
        ) : osc.on ? (
          <span className="text-quiet">
            Heard at 127.0.0.1, port {osc.port}: <code>/kinetra/hush</code>, for example. {osc.done} done, {osc.refused}{" "}
            refused.
          </span>
        ) : null}
      </p>
      {osc.last && (
        <p className="mt-1 text-xs break-words text-quiet">
          Refused last, {clock(osc.last.at)}: {osc.last.address && <code>{osc.last.address}</code>} {osc.last.problem}
        </p>
      )}
    </Way>
  );
}

function Commands({ hasToken }: { hasToken: boolean }) {
  const make = useMakeToken();
  const remove = useRemoveToken();
  const [copied, setCopied] = useState(false);
  const token = make.data?.token;
  const example = `${window.location.origin}/api/do/hush?token=${token ?? "TOKEN"}`;
  return (
    <Way
      title="Commands: HTTP"
      words="A key of a macro keyboard, a game’s hot-key program or a script opens an address, and the action is done. Only with the token, and only on this machine."
    >
      <div className="flex flex-wrap gap-2">
        {hasToken ? (
          <Confirm
            trigger={<Button icon={<KeyRound size={14} />}>A new token</Button>}
            title="Make a new token?"
            words="Whatever has the token of now is refused from then on."
            action="Make a new one"
            onConfirm={() => make.mutate()}
          />
        ) : (
          <Button icon={<KeyRound size={14} />} disabled={make.isPending} onClick={() => make.mutate()}>
            Make a token
          </Button>
        )}
        {hasToken && (
          <Button
            icon={<Trash2 size={14} />}
            onClick={() => {
              make.reset();
              remove.mutate();
            }}
          >
            Take no commands
          </Button>
        )}
      </div>
      {hasToken && token && (
        <div className="mt-2 text-[13px]">
          <p>This is told once: whoever has it can do everything. Put it where it is needed now.</p>
          <div className="mt-1 flex items-center gap-2">
            <code className="min-w-0 grow overflow-x-auto rounded border border-line bg-raised px-2 py-1 whitespace-nowrap">
              {example}
            </code>
            <Button
              icon={copied ? <Check size={14} /> : <Copy size={14} />}
              onClick={() => void navigator.clipboard.writeText(example).then(() => setCopied(true))}
            >
              {copied ? "Copied" : "Copy"}
            </Button>
          </div>
        </div>
      )}
      {hasToken && !token && <p className="mt-1 text-xs text-quiet">There is a token. {example}</p>}
    </Way>
  );
}

/** What this window itself can be. */
function NearBy() {
  const small = useSmallWindow((w) => w.window !== null);
  const scale = useScale((s) => s.scale);
  return (
    <Way
      title="The small window and the size of everything"
      words="The small window stays on top of a game that does not take the whole screen for itself: hush, cough, record, promises, loudness. It is there where the browser can."
    >
      <div className="flex flex-wrap items-center gap-2">
        <Button icon={<PictureInPicture2 size={14} />} aria-pressed={small} onClick={toggleSmallWindow}>
          {small ? "Close the small window" : "Open the small window"}
        </Button>
        <span className="ml-3 text-[13px]">Size of everything</span>
        <OneOf
          label="Size"
          value={`${scale}`}
          options={scales.map((s) => ({ value: `${s}`, words: `${s} %` }))}
          onChange={(s) => showAt(Number(s))}
        />
      </div>
    </Way>
  );
}
