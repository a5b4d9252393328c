import { saveText } from "@/shared/look/save";
/** The map as it is seen, as an SVG document of its own: colours by value, names as text, nothing that lies elsewhere. */
export function svgOf(map: SVGSVGElement, title: string): string {
  const style = getComputedStyle(document.documentElement);
  const copy = map.cloneNode(true) as SVGSVGElement;
  for (const hit of copy.querySelectorAll("[data-hit]")) hit.remove();
  for (const name of ["class", "aria-hidden"]) copy.removeAttribute(name);
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("viewBox", `0 0 ${map.width.baseVal.value} ${map.height.baseVal.value}`);
  copy.setAttribute("font-family", "sans-serif");
  const named = copy.querySelector("title");
  if (named) named.textContent = title;
  const ground = element("rect", { width: "100%", height: "100%", fill: style.getPropertyValue("--ground").trim() });
  named?.after(ground);
  // What stands beside the tracks as words of the page.
  const origin = map.getBoundingClientRect();
  for (const word of map.parentElement?.querySelectorAll<HTMLElement>("[data-word]") ?? []) {
    const { left, right, top, bottom } = word.getBoundingClientRect();
    const { color, fontSize, fontWeight, textAlign } = getComputedStyle(word);
    const isRight = textAlign === "right";
    const text = element("text", {
      x: ((isRight ? right : left) - origin.left).toFixed(1),
      y: ((top + bottom) / 2 - origin.top + Number.parseFloat(fontSize) * 0.35).toFixed(1),
      "text-anchor": isRight ? "end" : "start",
      "font-size": fontSize,
      "font-weight": fontWeight,
      fill: color,
    });
    text.textContent = (word.textContent ?? "").replace(/,\s*$/, "");
    copy.append(text);
  }
  const drawn = new XMLSerializer().serializeToString(copy);
  return `${drawn.replaceAll(/var\((--[\w-]+)\)/g, (_, name: string) => style.getPropertyValue(name).trim())}\n`;
}

function element(name: string, attributes: Record<string, string>): SVGElement {
  const made = document.createElementNS("http://www.w3.org/2000/svg", name);
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
  return made;
}

/** Hands the map that is shown to the browser as a file. */
export function exportSvg(show: string) {
  const map = document.querySelector<SVGSVGElement>("svg[data-map]");
  if (!map) return;
  saveText(svgOf(map, `${show}: where every sound goes`), `${show} paths.svg`, "image/svg+xml");
}
