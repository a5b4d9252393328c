import { create } from "zustand";
import { tell } from "@/core/notices/notices";

interface PictureInPicture extends EventTarget {
  requestWindow(options: { width: number; height: number }): Promise<Window>;
}

/** The small window that stays on top, while it is open (WICG: Document Picture-in-Picture). */
export const useSmallWindow = create<{ window: Window | null }>(() => ({ window: null }));

/** Opens it, or closes it. A browser opens it only while somebody presses something in the page. */
export function toggleSmallWindow() {
  const open = useSmallWindow.getState().window;
  if (open) {
    open.close();
    return;
  }
  const maker = (window as { documentPictureInPicture?: PictureInPicture }).documentPictureInPicture;
  if (!maker) {
    tell("wrong", "This browser has no window that stays on top.", "A second screen can show the same.");
    return;
  }
  maker.requestWindow({ width: 300, height: 280 }).then(
    (made) => {
      // It is drawn in the same looks: what the page has of styles, it has too.
      for (const style of document.querySelectorAll("link[rel=stylesheet], style"))
        made.document.head.append(style.cloneNode(true));
      made.document.documentElement.className = document.documentElement.className;
      for (const { name, value } of document.documentElement.attributes)
        if (name.startsWith("data-")) made.document.documentElement.setAttribute(name, value);
      made.document.title = "Kinetra";
      made.addEventListener("pagehide", () => useSmallWindow.setState({ window: null }));
      useSmallWindow.setState({ window: made });
    },
    (error: Error) => tell("wrong", "The small window was not opened.", error.message),
  );
}
