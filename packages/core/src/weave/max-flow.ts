const SOURCE = 1;
const SINK = -1;
const FREE = 0;
/** Instead of an arc: the terminal itself, and none. */
const TERMINAL = -2;
const NONE = -1;
/** Less than this does not flow. */
const LEAST = 1e-9;

/**
 * The largest flow between two terminals, and with it the cheapest cut: two trees grow from the terminals, and
 * what is cut off from them is adopted again.
 * Source: Boykov and Kolmogorov, An Experimental Comparison of Min-Cut/Max-Flow Algorithms, 2004, section 3.
 */
export class MaxFlow {
  private readonly head: Int32Array;
  private readonly next: Int32Array;
  private readonly capacity: Float64Array;
  private readonly first: Int32Array;
  private readonly terminal: Float64Array;
  private readonly parent: Int32Array;
  private readonly tree: Int8Array;
  private readonly stamp: Int32Array;
  private readonly distance: Int32Array;
  private readonly queue: Int32Array;
  private readonly isQueued: Uint8Array;
  private arcs = 0;
  private queueHead = 0;
  private queued = 0;
  private clock = 0;

  /** @param edges the most that will be added. */
  constructor(
    private readonly nodes: number,
    edges: number,
  ) {
    this.head = new Int32Array(edges * 2);
    this.next = new Int32Array(edges * 2);
    this.capacity = new Float64Array(edges * 2);
    this.first = new Int32Array(nodes).fill(NONE);
    this.terminal = new Float64Array(nodes);
    this.parent = new Int32Array(nodes);
    this.tree = new Int8Array(nodes);
    this.stamp = new Int32Array(nodes);
    this.distance = new Int32Array(nodes);
    this.queue = new Int32Array(nodes);
    this.isQueued = new Uint8Array(nodes);
  }

  /** Takes out all edges. */
  clear(): void {
    this.first.fill(NONE);
    this.terminal.fill(0);
    this.arcs = 0;
  }

  /** What is paid when the node is on the sink's side (above 0), or on the source's (below). */
  addTerminal(node: number, cost: number): void {
    this.terminal[node] += cost;
  }

  /** What is paid when `from` is on the source's side and `to` on the sink's. */
  addEdge(from: number, to: number, cost: number): void {
    this.addArc(from, to, cost);
    this.addArc(to, from, 0);
  }

  private addArc(from: number, to: number, cost: number): void {
    const arc = this.arcs++;
    this.head[arc] = to;
    this.capacity[arc] = cost;
    this.next[arc] = this.first[from];
    this.first[from] = arc;
  }

  isOnSourceSide(node: number): boolean {
    return this.tree[node] === SOURCE;
  }

  run(): void {
    this.plant();
    for (let bridge = this.grow(); bridge !== NONE; bridge = this.grow()) {
      this.clock++;
      this.adopt(this.augment(bridge));
    }
  }

  private plant(): void {
    const { nodes, terminal, tree, parent, distance } = this;
    this.isQueued.fill(0);
    this.stamp.fill(0);
    this.clock = 0;
    this.queueHead = 0;
    this.queued = 0;
    for (let x = 0; x < nodes; x++) {
      const isTied = Math.abs(terminal[x]) > LEAST;
      tree[x] = isTied ? (terminal[x] > 0 ? SOURCE : SINK) : FREE;
      parent[x] = isTied ? TERMINAL : NONE;
      if (!isTied) continue;
      distance[x] = 1;
      this.enqueue(x);
    }
  }

  private enqueue(node: number): void {
    if (this.isQueued[node]) return;
    this.isQueued[node] = 1;
    this.queue[(this.queueHead + this.queued++) % this.nodes] = node;
  }

  private dequeue(): void {
    this.isQueued[this.queue[this.queueHead]] = 0;
    this.queueHead = (this.queueHead + 1) % this.nodes;
    this.queued--;
  }

  /** Grows the trees until they touch. @returns the arc from the source's tree to the sink's, or NONE. */
  private grow(): number {
    const { capacity, head, next, first, tree, parent, distance, stamp } = this;
    while (this.queued > 0) {
      const x = this.queue[this.queueHead];
      if (tree[x] !== FREE) {
        const isSource = tree[x] === SOURCE;
        for (let arc = first[x]; arc !== NONE; arc = next[arc]) {
          if (capacity[isSource ? arc : arc ^ 1] <= LEAST) continue;
          const y = head[arc];
          if (tree[y] === FREE) {
            tree[y] = tree[x];
            parent[y] = arc ^ 1;
            distance[y] = distance[x] + 1;
            stamp[y] = stamp[x];
            this.enqueue(y);
          } else if (tree[y] !== tree[x]) {
            return isSource ? arc : arc ^ 1;
          } else if (stamp[y] <= stamp[x] && distance[y] > distance[x] + 1) {
            parent[y] = arc ^ 1;
            distance[y] = distance[x] + 1;
            stamp[y] = stamp[x];
          }
        }
      }
      this.dequeue();
    }
    return NONE;
  }

  /** Sends what can flow over the bridge. @returns the nodes whose arc to their parent is full. */
  private augment(bridge: number): number[] {
    const { capacity, head, parent, terminal } = this;
    const above = head[bridge ^ 1];
    const below = head[bridge];
    let flow = capacity[bridge];
    let x = above;
    for (; parent[x] !== TERMINAL; x = head[parent[x]]) flow = Math.min(flow, capacity[parent[x] ^ 1]);
    flow = Math.min(flow, terminal[x]);
    for (x = below; parent[x] !== TERMINAL; x = head[parent[x]]) flow = Math.min(flow, capacity[parent[x]]);
    flow = Math.min(flow, -terminal[x]);
    capacity[bridge] -= flow;
    capacity[bridge ^ 1] += flow;
    const orphans: number[] = [];
    const orphan = (node: number) => {
      parent[node] = NONE;
      orphans.push(node);
    };
    for (x = above; parent[x] !== TERMINAL; ) {
      const arc = parent[x];
      const up = head[arc];
      capacity[arc ^ 1] -= flow;
      capacity[arc] += flow;
      if (capacity[arc ^ 1] <= LEAST) orphan(x);
      x = up;
    }
    terminal[x] -= flow;
    if (terminal[x] <= LEAST) orphan(x);
    for (x = below; parent[x] !== TERMINAL; ) {
      const arc = parent[x];
      const up = head[arc];
      capacity[arc] -= flow;
      capacity[arc ^ 1] += flow;
      if (capacity[arc] <= LEAST) orphan(x);
      x = up;
    }
    terminal[x] += flow;
    if (terminal[x] >= -LEAST) orphan(x);
    return orphans;
  }

  /** Finds a new parent for each orphan, or sets it free and its children with it. */
  private adopt(orphans: number[]): void {
    const { capacity, head, next, first, tree, parent, distance, stamp } = this;
    for (let at = 0; at < orphans.length; at++) {
      const x = orphans[at];
      const isSource = tree[x] === SOURCE;
      let best = NONE;
      let nearest = Number.POSITIVE_INFINITY;
      for (let arc = first[x]; arc !== NONE; arc = next[arc]) {
        if (capacity[isSource ? arc ^ 1 : arc] <= LEAST) continue;
        const y = head[arc];
        if (tree[y] !== tree[x] || parent[y] === NONE) continue;
        const far = this.distanceToTerminal(y);
        if (far >= nearest) continue;
        nearest = far;
        best = arc;
      }
      if (best !== NONE) {
        parent[x] = best;
        stamp[x] = this.clock;
        distance[x] = nearest + 1;
        continue;
      }
      for (let arc = first[x]; arc !== NONE; arc = next[arc]) {
        const y = head[arc];
        if (tree[y] !== tree[x]) continue;
        if (capacity[isSource ? arc ^ 1 : arc] > LEAST) this.enqueue(y);
        if (parent[y] >= 0 && head[parent[y]] === x) {
          parent[y] = NONE;
          orphans.push(y);
        }
      }
      tree[x] = FREE;
    }
  }

  /** Steps up its tree to the terminal, remembered on the way; infinite where the way is broken. */
  private distanceToTerminal(node: number): number {
    const { head, parent, distance, stamp, clock } = this;
    let steps = 0;
    for (let x = node; ; x = head[parent[x]]) {
      if (stamp[x] === clock) {
        steps += distance[x];
        break;
      }
      if (parent[x] === NONE) return Number.POSITIVE_INFINITY;
      steps++;
      if (parent[x] === TERMINAL) {
        stamp[x] = clock;
        distance[x] = 1;
        break;
      }
    }
    for (let x = node, far = steps; stamp[x] !== clock; x = head[parent[x]]) {
      stamp[x] = clock;
      distance[x] = far--;
    }
    return steps;
  }
}
