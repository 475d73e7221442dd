/** A strip or a chart as a file: SVG with its styles inside, or PNG drawn from that. */
import { save } from "../table/csv";

const STYLES = [
  "fill",
  "stroke",
  "stroke-width",
  "stroke-dasharray",
  "paint-order",
  "stroke-linejoin",
  "opacity",
  "font-family",
  "font-size",
  "font-weight",
  "text-anchor",
];
const SHARPNESS = 2;

export async function saveDrawing(panel: HTMLElement | null, name: string, kind: "svg" | "png"): Promise<void> {
  const drawn = panel?.querySelector<SVGSVGElement>(".strip > svg") ?? panel?.querySelector("svg");
  if (!drawn) return;
  const text = standalone(drawn);
  if (kind === "svg") return save(`${name}.svg`, text, "image/svg+xml");
  const picture = new Image();
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`;
  await picture.decode();
  const canvas = document.createElement("canvas");
  canvas.width = drawn.width.baseVal.value * SHARPNESS;
  canvas.height = drawn.height.baseVal.value * SHARPNESS;
  const pen = canvas.getContext("2d");
  if (!pen) return;
  pen.scale(SHARPNESS, SHARPNESS);
  pen.drawImage(picture, 0, 0);
  const link = document.createElement("a");
  link.href = canvas.toDataURL("image/png");
  link.download = `${name}.png`;
  link.click();
}

function standalone(drawn: SVGSVGElement): string {
  const copy = drawn.cloneNode(true) as SVGSVGElement;
  const from = [drawn, ...drawn.querySelectorAll<SVGElement>("*")];
  const to = [copy, ...copy.querySelectorAll<SVGElement>("*")];
  from.forEach((element, index) => {
    const style = getComputedStyle(element);
    to[index]?.setAttribute("style", STYLES.map((one) => `${one}:${style.getPropertyValue(one)}`).join(";"));
  });
  const ground = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  ground.setAttribute("width", "100%");
  ground.setAttribute("height", "100%");
  ground.setAttribute("fill", getComputedStyle(document.documentElement).getPropertyValue("--panel") || "#fff");
  copy.prepend(ground);
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  return new XMLSerializer().serializeToString(copy);
}
