// The peer: lays the boxes and arrows of a map out, and does no more. Reads the map as JSON, with boxes of the same sizes.
import { readFileSync } from 'node:fs';
import { Graph, layout } from '@dagrejs/dagre';

const { boxes, arrows } = JSON.parse(readFileSync(process.argv[2], 'utf8'));
const graph = new Graph({ multigraph: true });
graph.setGraph({ rankdir: 'LR', nodesep: 28, ranksep: 60, edgesep: 14, marginx: 24, marginy: 24 });
for (const { what, name, groups } of boxes) {
  const rows = groups.reduce((sum, { fields }) => sum + fields.length, 0);
  graph.setNode(`${what}:${name}`, { width: 220, height: 42 + 19 * rows });
}
for (const [index, { from, to }] of arrows.entries())
  graph.setEdge(from, to, { width: 120, height: 28, labelpos: 'c' }, String(index));
layout(graph);
console.log(graph.graph().width);
