import { CircleCheck, TriangleAlert, X } from "lucide-react";
import { Toast } from "radix-ui";
import { useEffect } from "react";
import { flushSync } from "react-dom";
import { dismiss, dismissAll, useNotices } from "@/core/notices/notices";
import { Button } from "./Button";

const wrongStays = 12_000;
const doneStays = 5_000;

/** Short words about what just happened. Spoken by screen readers, and gone by themselves. */
export function NoticeArea() {
  const notices = useNotices((s) => s.notices);
  useEffect(() => {
    // A notice counts as the uppermost layer, and would keep Escape from what the person looks at: it goes first, and the key goes on.
    const leave = (e: KeyboardEvent) => {
      const isFor = document.activeElement?.closest("[data-notice]");
      if (e.key === "Escape" && !isFor && useNotices.getState().notices.length > 0) flushSync(dismissAll);
    };
    window.addEventListener("keydown", leave, true);
    return () => window.removeEventListener("keydown", leave, true);
  }, []);
  return (
    <Toast.Provider swipeDirection="right">
      {notices.map((n) => (
        <Toast.Root
          key={n.id}
          data-notice=""
          duration={n.kind === "wrong" ? wrongStays : doneStays}
          onOpenChange={(open) => !open && dismiss(n.id)}
          className="flex items-start gap-2.5 rounded-md border border-line bg-raised p-3 shadow-xl"
        >
          {n.kind === "wrong" ? (
            <TriangleAlert size={18} className="mt-0.5 shrink-0 text-wrong" />
          ) : (
            <CircleCheck size={18} className="mt-0.5 shrink-0 text-good" />
          )}
          <div className="min-w-0 grow">
            <Toast.Title className="font-medium">{n.title}</Toast.Title>
            {n.detail && <Toast.Description className="mt-0.5 text-xs text-quiet">{n.detail}</Toast.Description>}
            {n.action && (
              <Toast.Action asChild altText={n.action.words}>
                <Button className="mt-1.5 h-7" onClick={n.action.act}>
                  {n.action.words}
                </Button>
              </Toast.Action>
            )}
          </div>
          <Toast.Close asChild>
            <Button tone="quiet" square className="-mt-1 -mr-1 h-7" aria-label="Dismiss" icon={<X size={14} />} />
          </Toast.Close>
        </Toast.Root>
      ))}
      <Toast.Viewport className="fixed right-3 bottom-3 z-50 flex w-[min(24rem,calc(calc(100*var(--vw))-1.5rem))] flex-col gap-2 outline-none" />
    </Toast.Provider>
  );
}
