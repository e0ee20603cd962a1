// The ledger's left edge and the curves' upper edge: dragged, or moved by arrow keys; a double click puts them back. Kept in the browser.
interface Split {
  /** Name of the style variable that holds the size, and of what is kept. */
  name: string;
  /** The part of the page whose size it is. */
  part: string;
  least: number;
  most: number;
  axis: 'clientX' | 'clientY';
  grow: string;
  shrink: string;
}

const splits: Record<string, Split> = {
  ledger: { name: '--ledger', part: '.ledger-side', least: 360, most: 760, axis: 'clientX', grow: 'ArrowLeft', shrink: 'ArrowRight' },
  curves: { name: '--curves', part: '.curves-pane', least: 180, most: 640, axis: 'clientY', grow: 'ArrowUp', shrink: 'ArrowDown' },
};
const step = 20,
  kept = 'build-sizes';

type Sizes = Record<string, number>;

function read(): Sizes {
  try {
    return JSON.parse(localStorage.getItem(kept) ?? '{}') as Sizes;
  } catch {
    return {};
  }
}

export function startSplits(root: HTMLElement): void {
  const sizes = read();
  const sizeOf = (split: Split): number => {
    const box = root.querySelector(split.part)!.getBoundingClientRect();
    return Math.round(split.axis === 'clientX' ? box.width : box.height);
  };
  const show = (split: Split, size: number): void => {
    sizes[split.name] = Math.round(Math.min(split.most, Math.max(split.least, size)));
    root.style.setProperty(split.name, `${sizes[split.name]}px`);
  };
  const keep = (split: Split, edge: HTMLElement): void => {
    edge.setAttribute('aria-valuenow', String(sizeOf(split)));
    localStorage.setItem(kept, JSON.stringify(sizes));
  };
  for (const edge of root.querySelectorAll<HTMLElement>('[data-split]')) {
    const split = splits[edge.dataset.split!]!;
    if (sizes[split.name]) show(split, sizes[split.name]!);
    edge.setAttribute('aria-valuemin', String(split.least));
    edge.setAttribute('aria-valuemax', String(split.most));
    edge.setAttribute('aria-valuenow', String(sizeOf(split)));
    edge.addEventListener('pointerdown', event => {
      if (event.button !== 0) return;
      event.preventDefault();
      const start = event[split.axis],
        before = sizeOf(split),
        move = (at: PointerEvent): void => show(split, before - (at[split.axis] - start));
      edge.setPointerCapture(event.pointerId);
      edge.addEventListener('pointermove', move);
      const end = (): void => {
        edge.removeEventListener('pointermove', move);
        keep(split, edge);
      };
      edge.addEventListener('lostpointercapture', end, { once: true });
    });
    edge.addEventListener('keydown', event => {
      if (event.key !== split.grow && event.key !== split.shrink) return;
      event.preventDefault();
      show(split, sizeOf(split) + (event.key === split.grow ? step : -step));
      keep(split, edge);
    });
    edge.addEventListener('dblclick', () => {
      delete sizes[split.name];
      root.style.removeProperty(split.name);
      keep(split, edge);
    });
  }
}
