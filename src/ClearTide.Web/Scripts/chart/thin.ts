// The vertices that a drawn curve needs: a swinging-door pass leaves out those that a straight line passes closely enough.

/**
 * Which of the points (x rising, y) to keep so that every point left out is within `tolerance` of the line drawn through those kept.
 * A gap (NaN in y) ends a line: the points on both sides of it are kept, and the gap itself stays in the list.
 */
export function thin(x: ArrayLike<number>, y: ArrayLike<number>, tolerance: number): number[] {
  const kept: number[] = [];
  const count = x.length;
  let anchor = -1,
    low = 0,
    high = 0;
  const begin = (at: number): void => {
    anchor = at;
    low = -Infinity;
    high = Infinity;
    kept.push(at);
  };
  for (let k = 0; k < count; k++) {
    const value = y[k]!;
    if (Number.isNaN(value)) {
      if (anchor >= 0 && kept[kept.length - 1] !== k - 1) kept.push(k - 1);
      kept.push(k);
      anchor = -1;
      continue;
    }
    if (anchor < 0) {
      begin(k);
      continue;
    }
    const across = (from: number): number => x[k]! - x[from]!;
    let step = across(anchor);
    if (k - 1 > anchor && !(step > 0 && low <= (value - y[anchor]!) / step && (value - y[anchor]!) / step <= high)) begin(k - 1);
    step = across(anchor);
    if (!(step > 0)) {
      // Both sides of a jump stand at one time.
      begin(k);
      continue;
    }
    low = Math.max(low, (value - tolerance - y[anchor]!) / step);
    high = Math.min(high, (value + tolerance - y[anchor]!) / step);
  }
  if (anchor >= 0 && kept[kept.length - 1] !== count - 1) kept.push(count - 1);
  return kept;
}
