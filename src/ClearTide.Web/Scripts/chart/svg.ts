// Makes SVG elements by presentation attributes alone.
export type Attributes = Record<string, string | number | null | undefined>;

export function svg<K extends keyof SVGElementTagNameMap>(
  tag: K,
  attributes: Attributes = {},
  ...children: (Node | string)[]
): SVGElementTagNameMap[K] {
  const element = document.createElementNS('http://www.w3.org/2000/svg', tag);
  for (const [name, value] of Object.entries(attributes)) if (value != null) element.setAttribute(name, String(value));
  element.append(...children);
  return element;
}
