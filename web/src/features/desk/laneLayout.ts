/** Room above the first row and below the last, px. */
export const lanePadding = { top: 6, bottom: 9 } as const;

/** The highest a row gets, px. */
const mostRow = 38;

/** The lowest that a row is where nothing forces it, px: its sign can be hit, and its text has air. */
const easyRow = 23;

/** The lowest row whose text can be read, px. */
export const leastRow = 11;

/** What the head of an open lane needs, px. */
export const headHeight = 152;

/** A lane that is folded to its head and one line, px. */
export const foldedHeight = 46;

/** What a person chose for a lane; where nothing is chosen, the room decides. */
export type Fold = "open" | "folded";

export interface LaneLayout {
  /** Height of a row, the same in every open lane, px. */
  rowHeight: number;
  /** Every source has its row in every lane, so that the same is at the same height; otherwise only what is heard has one. */
  aligned: boolean;
  /** The ids of the lanes that are folded. */
  folded: ReadonlySet<string>;
}

/**
 * Shares the room among the lanes: rows shrink as far as they can be read, then only what is heard has a row, and then lanes are folded,
 * the last first, until the others fit. One stays open; what a person chose stays as it is.
 * @param room The height there is for all lanes, px.
 * @param lanes How many sources each lane's listener hears, top to bottom.
 * @param sources How many sources there are.
 * @param chosen What a person chose, by the lane's id.
 * @param mayShrink Without it rows stay easy to hit and nothing is folded by itself: the lanes are scrolled.
 */
export function layLanes(
  room: number,
  lanes: readonly { id: string; heard: number }[],
  sources: number,
  chosen: Readonly<Record<string, Fold>>,
  mayShrink: boolean,
): LaneLayout {
  const folded = new Set(lanes.filter((l) => chosen[l.id] === "folded").map((l) => l.id));
  const open = () => lanes.filter((l) => !folded.has(l.id));
  const needs = (aligned: boolean, row: number) =>
    folded.size * foldedHeight + open().reduce((sum, l) => sum + laneHeight(aligned ? sources : l.heard, row), 0);
  const highest = (aligned: boolean, most: number, least: number) => {
    for (let row = most; row >= least; row--) if (needs(aligned, row) <= room) return row;
    return null;
  };
  for (;;) {
    const easy = highest(true, mostRow, easyRow);
    if (easy !== null || !mayShrink) return { rowHeight: easy ?? easyRow, aligned: true, folded };
    const dense = highest(false, easyRow, leastRow);
    if (dense !== null) return { rowHeight: dense, aligned: false, folded };
    const next = open()
      .slice(1)
      .findLast((l) => chosen[l.id] === undefined);
    if (!next) return { rowHeight: easyRow, aligned: false, folded };
    folded.add(next.id);
  }
}

/** What an open lane needs, px. */
export function laneHeight(rows: number, rowHeight: number): number {
  return Math.max(headHeight, rows * rowHeight + lanePadding.top + lanePadding.bottom) + 1;
}
