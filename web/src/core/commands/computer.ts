import { answer, api } from "@/core/api/client";
import { tell, tellWrong } from "@/core/notices/notices";
import { windowId, windowName } from "@/core/realtime/identity";

const headers = { "X-Window": windowId, "X-Window-Name": windowName };

/** Takes back one change of the computer, as far as nobody has changed the same again since. */
export function takeGearBack(number: number) {
  return answer(api.POST("/api/gear/history/{number}/take-back", { params: { path: { number } }, headers }));
}

/** Says what this window has just changed of the computer, with the way back at hand: the show's own undo does not touch it. */
export async function tellGearDone() {
  try {
    const history = await answer(api.GET("/api/gear/history"));
    // Somebody else, or the show, may have changed something by now.
    const last = history.findLast((line) => line.by === "Person" && line.window === windowName);
    if (!last) return;
    const { number } = last;
    tell(
      "done",
      `${last.sentence}.`,
      undefined,
      number === null ? undefined : { words: "Take that back", act: () => void takeGearBack(number).catch(tellWrong) },
    );
  } catch (error) {
    tellWrong(error);
  }
}
