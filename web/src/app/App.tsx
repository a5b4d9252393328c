import { type ComponentType, lazy, Suspense, useEffect, useState } from "react";
import { type Screen, usePlace } from "@/core/place/place";
import { useConnection } from "@/core/realtime/connection";
import { useOnAir } from "@/core/realtime/onAir";
import { AirScreen } from "@/features/air";
import { NewCards } from "@/features/cards";
import { Desk } from "@/features/desk";
import { Gear } from "@/features/gear";
import { ConflictArea } from "@/features/history";
import { Pads } from "@/features/pads";
import { Paths } from "@/features/paths";
import { Takes } from "@/features/takes";
import { OnAirBanner, Voice } from "@/features/voice";
import { keepFocus } from "@/shared/focus/keepFocus";
import { Boundary } from "@/shared/ui/Boundary";
import { HintProvider } from "@/shared/ui/Hint";
import { NoticeArea } from "@/shared/ui/NoticeArea";
import { Loading } from "@/shared/ui/State";
import { ConnectionBanner } from "./ConnectionBanner";
import "./early";
import { Inspector } from "./Inspector";
import { Layers } from "./Layers";
import { Rail } from "./Rail";
import { TopBar } from "./TopBar";

const HandKeys = lazy(() => import("./HandKeys").then((m) => ({ default: m.HandKeys })));

const screens: Record<Screen, ComponentType> = {
  desk: Desk,
  paths: Paths,
  voice: Voice,
  gear: Gear,
  pads: Pads,
  takes: Takes,
  air: AirScreen,
};

export function App() {
  const screen = usePlace((p) => p.screen);
  const lost = useConnection((s) => s.hub === "lost");
  const onAir = useOnAir();
  const [drawn, setDrawn] = useState(false);
  useEffect(keepFocus, []);
  const Shown = screens[screen];
  return (
    <HintProvider delayDuration={500}>
      <button
        type="button"
        className="sr-only focus:not-sr-only focus:fixed focus:top-2 focus:left-2 focus:z-50 focus:rounded-md focus:border focus:border-line focus:bg-raised focus:px-3 focus:py-2"
        onClick={() => document.getElementById("screen")?.focus()}
      >
        Skip to the screen
      </button>
      <div className="flex h-full flex-col">
        <Boundary what="The bar above the screen">
          <TopBar drawn={drawn} />
        </Boundary>
        <ConnectionBanner />
        {onAir && (
          <Suspense>
            <OnAirBanner />
          </Suspense>
        )}
        <div className="flex min-h-0 grow max-md:flex-col">
          <Rail />
          <main
            id="screen"
            tabIndex={-1}
            className={`flex min-h-0 min-w-0 grow outline-none ${lost ? "opacity-60" : ""}`}
          >
            <div className="min-w-0 grow">
              <Boundary key={screen} what="This screen">
                <Suspense fallback={<Loading what="the screen" />}>
                  <Shown />
                  <Drawn then={setDrawn} />
                </Suspense>
              </Boundary>
            </div>
            <Inspector />
          </main>
        </div>
      </div>
      <Layers />
      {drawn && (
        <Boundary what="What keys do">
          <Suspense>
            <HandKeys />
          </Suspense>
        </Boundary>
      )}
      <NewCards />
      <ConflictArea />
      <NoticeArea />
    </HintProvider>
  );
}

/** Says when the first screen is there: what is not needed for it comes then. */
function Drawn({ then }: { then: (drawn: true) => void }) {
  useEffect(() => {
    const done = () => {
      performance.mark("first picture");
      then(true);
    };
    // A page that is not seen draws nothing, and hears controllers all the same. Not every browser says when it rests.
    if (!("requestIdleCallback" in window)) {
      const timer = setTimeout(done, 100);
      return () => clearTimeout(timer);
    }
    const id = requestIdleCallback(done, { timeout: 500 });
    return () => cancelIdleCallback(id);
  }, [then]);
  return null;
}
