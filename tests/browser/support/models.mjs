// Models that several files of tests build.

/** An epidemic with a latent time, line by line; beta is not given yet. */
export const fever = [
  'S -> E : beta * S * I / N',
  'E -> I after 3 days',
  'I -> R at gamma',
  'gamma = 1/5 per day',
  'N = S + E + I + R',
  'S(0) = the rest of 18400',
  'I(0) = 6',
];
