import { type FormEvent, useId, useState } from "react";
import type { AirStream } from "@/core/api/client";
import { Button } from "@/shared/ui/Button";
import { Dialog } from "@/shared/ui/Dialog";
import { useChangeStream, useSetPassword } from "./air";
import { readPort, ways } from "./words";

interface Props {
  stream: AirStream;
  hasPassword: boolean;
  open: boolean;
  onOpenChange: (open: boolean) => void;
}

/** Where a stream goes, and who one is there: taken all at once. */
export function ServerDialog({ stream, hasPassword, open, onOpenChange }: Props) {
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title={`Where ${stream.name} goes`}
      words="As the station’s account page states it. The password stays on this computer, encrypted: no show file, no answer and no log has it."
    >
      <ServerForm stream={stream} hasPassword={hasPassword} done={() => onOpenChange(false)} />
    </Dialog>
  );
}

function ServerForm({ stream, hasPassword, done }: { stream: AirStream; hasPassword: boolean; done: () => void }) {
  const [server, setServer] = useState({ ...stream.server, port: String(stream.server.port) });
  const [password, setPassword] = useState("");
  const [wrong, setWrong] = useState("");
  const change = useChangeStream();
  const keep = useSetPassword();
  const set = (some: Partial<typeof server>) => setServer((old) => ({ ...old, ...some }));
  const isOldest = server.kind === "FirstLine";
  const way = ways.find((w) => w.kind === server.kind);

  const save = async (e: FormEvent) => {
    e.preventDefault();
    const port = readPort(server.port);
    if (port === null) {
      setWrong("A port is a number from 1 to 65535.");
      return;
    }
    setWrong("");
    try {
      const text = { host: server.host.trim(), path: server.path.trim(), user: server.user.trim() };
      await change.mutateAsync({ stream: stream.id, change: { server: { ...server, ...text, port } } });
    } catch {
      // It has been told; what was typed stays.
      return;
    }
    if (password === "") done();
    else keep.mutate(stream.id, password, { onSuccess: done });
  };

  return (
    <form className="grid gap-3 text-[13px]" onSubmit={(e) => void save(e)}>
      <fieldset className="grid gap-1">
        <legend className="mb-1 text-quiet">What the account page tells</legend>
        {ways.map(({ kind, words, hint }) => (
          <label key={kind} className="flex items-baseline gap-2">
            <input
              type="radio"
              name="kind"
              checked={server.kind === kind}
              onChange={() => set({ kind, path: pathOf(kind, server.path), user: userOf(kind, server.user) })}
              className="accent-ink"
            />
            <span>
              {words} <span className="text-xs text-quiet">{server.kind === kind ? hint : ""}</span>
            </span>
          </label>
        ))}
        <span className="sr-only">{way?.hint}</span>
      </fieldset>
      <div className="grid grid-cols-[minmax(0,1fr)_7rem] gap-2">
        <Text label="Server" value={server.host} onChange={(host) => set({ host })} hint="radio.example" />
        <Text label="Port" value={server.port} onChange={(port) => set({ port })} hint="8000" />
      </div>
      <div className="grid grid-cols-2 gap-2">
        <Text
          label={isOldest ? "Stream number, if there is one" : "Path"}
          value={server.path}
          onChange={(path) => set({ path })}
          hint={isOldest ? "" : "/live"}
        />
        {!isOldest && <Text label="User" value={server.user} onChange={(user) => set({ user })} hint="source" />}
      </div>
      <Text
        secret
        label={hasPassword ? "Another password" : "Password"}
        value={password}
        onChange={setPassword}
        hint={hasPassword ? "the one that is kept stays" : ""}
      />
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={server.secure}
          onChange={(e) => set({ secure: e.target.checked })}
          className="size-4 accent-ink"
        />
        Through TLS, where the account page says so
      </label>
      {wrong !== "" && (
        <p role="alert" className="text-wrong">
          {wrong}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={done}>Leave it</Button>
        <Button type="submit" tone="lamp" disabled={change.isPending || keep.isPending}>
          Keep it
        </Button>
      </div>
    </form>
  );
}

/** What stands in the path where another way in is chosen: each has its own form of it. */
function pathOf(kind: string, path: string) {
  if (kind === "FirstLine") return path.startsWith("/") ? "" : path;
  return path.startsWith("/") ? path : "/live";
}

function userOf(kind: string, user: string) {
  return kind !== "FirstLine" && user === "" ? "source" : user;
}

function Text(props: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  hint: string;
  secret?: boolean;
}) {
  const { label, value, onChange, hint, secret } = props;
  const id = useId();
  return (
    <div className="flex min-w-0 flex-col gap-1">
      <label htmlFor={id} className="text-quiet">
        {label}
      </label>
      <input
        id={id}
        type={secret ? "password" : "text"}
        value={value}
        placeholder={hint}
        autoComplete={secret ? "new-password" : "off"}
        spellCheck={false}
        onChange={(e) => onChange(e.target.value)}
        className="h-8 min-w-0 rounded-md border border-line bg-ground px-2 hover:border-strong"
      />
    </div>
  );
}
