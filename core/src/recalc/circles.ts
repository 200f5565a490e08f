/**
 * The circles among some nodes that lead to others: Tarjan's strong components, with a stack of its own, so that a chain of
 * 100,000 is followed too. A node that leads to itself is a circle.
 */
export function circlesAmong<T>(nodes: readonly T[], next: (node: T) => readonly T[]): T[][] {
  const among = new Set(nodes);
  const index = new Map<T, number>();
  const low = new Map<T, number>();
  const path: T[] = [];
  const onPath = new Set<T>();
  const circles: T[][] = [];
  for (const start of nodes) {
    if (index.has(start)) continue;
    const stack: { node: T; next: T[]; at: number }[] = [];
    const enter = (node: T) => {
      index.set(node, index.size);
      low.set(node, index.get(node)!);
      path.push(node);
      onPath.add(node);
      stack.push({ node, next: next(node).filter((each) => among.has(each)), at: 0 });
    };
    enter(start);
    while (stack.length > 0) {
      const top = stack.at(-1)!;
      const following = top.next[top.at++];
      if (following !== undefined) {
        if (!index.has(following)) enter(following);
        else if (onPath.has(following)) lower(low, top.node, index.get(following)!);
        continue;
      }
      stack.pop();
      const below = stack.at(-1);
      if (below) lower(low, below.node, low.get(top.node)!);
      if (low.get(top.node) !== index.get(top.node)) continue;
      const circle: T[] = [];
      for (;;) {
        const node = path.pop()!;
        onPath.delete(node);
        circle.push(node);
        if (node === top.node) break;
      }
      if (circle.length > 1 || top.next.includes(top.node)) circles.push(circle.reverse());
    }
  }
  return circles;
}

function lower<T>(low: Map<T, number>, node: T, to: number): void {
  low.set(node, Math.min(low.get(node)!, to));
}
