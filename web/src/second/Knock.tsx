import { useState } from "react";
import { Button } from "@/shared/ui/Button";
import { enter } from "./board";

/** Asks for the passphrase. */
export function Knock() {
  const [passphrase, setPassphrase] = useState("");
  const [wrong, setWrong] = useState<string | null>(null);
  const [waits, setWaits] = useState(false);
  return (
    <main className="mx-auto flex h-full max-w-sm flex-col justify-center gap-3 p-5">
      <h1 className="text-2xl font-semibold">Kinetra</h1>
      <p className="text-[15px] text-quiet">
        This device can be a board for a show. It is let in by the passphrase that was chosen in Kinetra, under Hands.
      </p>
      <form
        className="flex flex-col gap-3"
        onSubmit={async (e) => {
          e.preventDefault();
          if (passphrase === "" || waits) return;
          setWaits(true);
          setWrong(await enter(passphrase));
          setWaits(false);
        }}
      >
        <label className="flex flex-col gap-1 text-[15px]">
          Passphrase
          <input
            type="password"
            autoComplete="current-password"
            value={passphrase}
            onChange={(e) => setPassphrase(e.target.value)}
            className="h-12 rounded-md border border-line bg-raised px-3 text-base"
          />
        </label>
        <p role="alert" className="min-h-5 text-[13px] text-wrong">
          {wrong}
        </p>
        <Button type="submit" className="h-12 text-base" disabled={waits}>
          {waits ? "One moment …" : "Let me in"}
        </Button>
      </form>
    </main>
  );
}
