// One scale of colour for values.

/** Colours of one scale, from the first value to the last. */
export const shades = 10;

export const colourOf = (k: number, count: number): string =>
  `hue-w${Math.min(shades - 1, Math.floor((shades * k) / Math.max(1, count - 1)))}`;
