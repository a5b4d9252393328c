const focusable =
  'a[href], button:not(:disabled), input:not(:disabled), select:not(:disabled), textarea:not(:disabled), [tabindex]:not([tabindex="-1"])';

/** What belongs together for whoever moves by keys: a thing that goes hands its focus to what is beside it, not across these. */
const region = "li, ul, section, aside, table, form, [role=dialog], [role=alertdialog], [role=group]";

/** The most places that are remembered: enough to find the way back out of what was opened over one another. */
const most = 20;

const keys = ["keydown", "keypress", "keyup"] as const;

/** Where the focus was. */
interface Visit {
  element: HTMLElement;
  /** The thing's own name, by which it is found again wherever it has moved. */
  key: string | undefined;
  /** Its ancestors with the place in each, innermost first, up to its outermost region. */
  path: { parent: Element; index: number }[];
}

/**
 * Keeps focus from falling to the page itself when what had it goes or can no longer be used: it moves to the same thing where that is
 * now (`data-focus`), else to what is beside it, else back to where it was before, else to the screen.
 * @returns Stops it.
 */
export function keepFocus(): () => void {
  let visits: Visit[] = [];
  let isLeft = false;
  let isKeyDown = false;
  let isKeySpent = false;

  const remember = (e: FocusEvent) => {
    const element = e.target;
    if (!(element instanceof HTMLElement) || element === document.body) return;
    isLeft = false;
    visits = [visitOf(element), ...visits.filter((v) => v.element !== element)].slice(0, most);
  };

  const settle = () => {
    const last = visits[0];
    if (!last || isLeft || isUsable(last.element)) return;

    // What was disabled keeps the focus until the next picture of the screen.
    if (document.activeElement !== document.body && document.activeElement !== last.element) return;
    // What is open over the screen has a way of its own to give focus back.
    const successor = visits.map(successorOf).find((e) => e !== null) ?? document.getElementById("screen");
    successor?.focus();
    isKeySpent = isKeyDown;
  };

  // Who presses where nothing takes the focus has left it on purpose: what goes then is no loss, and keys are not given to its neighbour.
  const leave = (e: PointerEvent) => {
    const now = document.activeElement;
    isLeft = now === document.body || !(e.target instanceof Node && now?.contains(e.target));
  };

  // The key that took the focus away has done its work: it does not press, too, what gets the focus while it is still down.
  const track = (e: KeyboardEvent) => {
    if (isKeySpent && (e.type === "keypress" || e.repeat)) {
      e.preventDefault();
      e.stopPropagation();
    }
    isKeyDown = e.type !== "keyup";
    isKeySpent &&= isKeyDown && (e.type === "keypress" || e.repeat);
  };

  const watch = new MutationObserver(settle);
  document.addEventListener("focusin", remember);
  document.addEventListener("pointerdown", leave, true);
  for (const type of keys) document.addEventListener(type, track, true);
  watch.observe(document.body, {
    subtree: true,
    childList: true,
    attributes: true,
    attributeFilter: ["disabled", "hidden"],
  });
  return () => {
    document.removeEventListener("focusin", remember);
    document.removeEventListener("pointerdown", leave, true);
    for (const type of keys) document.removeEventListener(type, track, true);
    watch.disconnect();
  };
}

function visitOf(element: HTMLElement): Visit {
  const path: Visit["path"] = [];
  if (element.matches(region)) return { element, key: element.dataset.focus, path };
  let child: Element = element;
  for (let parent = child.parentElement; parent && parent !== document.body; parent = parent.parentElement) {
    path.push({ parent, index: [...parent.children].indexOf(child) });
    child = parent;
  }
  while (path.length > 1 && !path.at(-1)?.parent.matches(region)) path.pop();
  return { element, key: element.dataset.focus, path };
}

function isUsable(element: HTMLElement): boolean {
  return element.isConnected && !element.matches(":disabled") && element.checkVisibility();
}

function successorOf({ element, key, path }: Visit): HTMLElement | null {
  if (isUsable(element)) return element;
  const same = key && document.querySelector<HTMLElement>(`[data-focus="${CSS.escape(key)}"]`);
  if (same && isUsable(same)) return same;
  for (const { parent, index } of path) {
    if (!parent.isConnected) continue;
    const children = [...parent.children];
    const after = children.slice(index).flatMap((c) => within(c));
    const before = children.slice(0, index).flatMap((c) => within(c));
    const beside = after.find(isUsable) ?? before.reverse().find(isUsable);
    if (beside) return beside;
  }
  return null;
}

function within(element: Element): HTMLElement[] {
  const inside = [...element.querySelectorAll<HTMLElement>(focusable)];
  return element instanceof HTMLElement && element.matches(focusable) ? [element, ...inside] : inside;
}
