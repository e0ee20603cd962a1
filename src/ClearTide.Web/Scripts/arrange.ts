// The layout package in a file of its own: most pages never need it.
import { Graph, layout } from '@dagrejs/dagre';

export const graph = (): Graph => new Graph();
export { layout };
