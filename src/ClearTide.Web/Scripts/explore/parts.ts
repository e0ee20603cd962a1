// One chart above the other in the body of a panel.

/** A place for each of several charts, one above the other. */
export function parts(place: HTMLElement, count: number): HTMLElement[] {
  const boxes = Array.from({ length: count }, () => {
    const box = document.createElement('div');
    box.className = 'panel-part [&>.chart-svg]:static';
    return box;
  });
  place.replaceChildren(...boxes);
  return boxes;
}
