import { useCallback, useState } from "react";
import { DelayDialog } from "../delay/DelayDialog";
import { Desk } from "../desk/Desk";
import { useConnection } from "../live/connection";
import { ConflictArea } from "../show/ConflictArea";
import { Takes } from "../takes/Takes";
import { HintProvider } from "../ui/Hint";
import { NoticeArea } from "../ui/NoticeArea";
import { ConnectionBanner } from "./ConnectionBanner";
import { KeysDialog, useKeys } from "./keys";
import { Rail } from "./Rail";
import { useScreen } from "./screens";
import { TopBar } from "./TopBar";

export function App() {
  const screen = useScreen((s) => s.screen);
  const lost = useConnection((s) => s.hub === "lost");
  const [keysOpen, setKeysOpen] = useState(false);
  useKeys(useCallback(() => setKeysOpen(true), []));
  return (
    <HintProvider delayDuration={500}>
      <div className="flex h-full flex-col">
        <TopBar onKeys={() => setKeysOpen(true)} />
        <ConnectionBanner />
        <div className="flex min-h-0 grow max-md:flex-col">
          <Rail />
          <main className={`min-h-0 min-w-0 grow ${lost ? "opacity-60" : ""}`}>
            {screen === "desk" ? <Desk /> : <Takes />}
          </main>
        </div>
      </div>
      <KeysDialog open={keysOpen} onOpenChange={setKeysOpen} />
      <DelayDialog />
      <ConflictArea />
      <NoticeArea />
    </HintProvider>
  );
}
