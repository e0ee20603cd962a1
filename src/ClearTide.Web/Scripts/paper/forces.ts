// Places for boxes that are tied to each other in every direction: ties pull, boxes push, and none covers another. In layers such a
// net would be as wide as it is unreadable.
import { forceCollide, forceLink, forceManyBody, forceSimulation, forceX, forceY, type SimulationNodeDatum } from 'd3-force';

interface Point extends SimulationNodeDatum {
  id: string;
}

const gapX = 64,
  gapY = 50,
  turns = 300;

/**
 * Upper left corners of boxes of one size. The paper is stretched so that a box with its gap is as wide as it is high and can push
 * like a disc; the same boxes and ties always give the same places.
 */
export function arrangeByForces(
  ids: string[],
  size: { width: number; height: number },
  links: [string, string][],
): Map<string, [number, number]> {
  const side = size.width + gapX,
    stretch = side / (size.height + gapY),
    known = new Set(ids);
  const points: Point[] = ids.map(id => ({ id }));
  const ties = links
    .filter(([from, to]) => from !== to && known.has(from) && known.has(to))
    .map(([source, target]) => ({ source, target }));
  forceSimulation(points)
    .force(
      'ties',
      forceLink<Point, { source: string | Point; target: string | Point }>(ties)
        .id(point => point.id)
        .distance(1.1 * side),
    )
    .force('push', forceManyBody().strength(-1.6 * side))
    // A page is wider than it is high.
    .force('across', forceX(0).strength(0.035))
    .force('up', forceY(0).strength(0.05))
    .force('room', forceCollide(0.5 * side).iterations(4))
    .stop()
    .tick(turns);
  const left = Math.min(...points.map(point => point.x!)),
    top = Math.min(...points.map(point => point.y!));
  return new Map(points.map(point => [point.id, [point.x! - left, (point.y! - top) / stretch]]));
}
