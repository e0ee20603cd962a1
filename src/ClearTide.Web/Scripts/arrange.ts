// The layout packages in a file of their own: most pages never need them.
import { Graph, layout } from '@dagrejs/dagre';

export const graph = (): Graph => new Graph();
export { layout };
export { arrangeByForces } from './paper/forces';
