/** Operators that take as many numbers as said here (ISO 32000-1, 8.4.4, 8.5, 8.6.8). */
type Operator = (context: CanvasRenderingContext2D, pen: Pen, n: number[]) => void;

/** What canvases don't remember themselves. */
class Pen {
  x = 0;
  y = 0;
  fill: CanvasFillRule | null = null;
  strokes = false;
  clip: CanvasFillRule | null = null;
  fillColour = '';
  strokeColour = '';
  to(x: number, y: number) {
    this.x = x;
    this.y = y;
  }
}

const byte = (share: number) => Math.round(Math.min(1, Math.max(0, share)) * 255);
const rgb = (n: number[]) => `rgb(${byte(n[0]!)} ${byte(n[1]!)} ${byte(n[2]!)})`;
const caps: CanvasLineCap[] = ['butt', 'round', 'square'];
const joins: CanvasLineJoin[] = ['miter', 'round', 'bevel'];

const paint =
  (fill: CanvasFillRule | null, strokes: boolean, closes = false): Operator =>
  (context, pen) => {
    if (closes) context.closePath();
    pen.fill = fill;
    pen.strokes = strokes;
  };

const operators: Record<string, Operator> = {
  m: (c, pen, [x, y]) => {
    c.moveTo(x!, y!);
    pen.to(x!, y!);
  },
  l: (c, pen, [x, y]) => {
    c.lineTo(x!, y!);
    pen.to(x!, y!);
  },
  c: (c, pen, [a, b, d, e, x, y]) => {
    c.bezierCurveTo(a!, b!, d!, e!, x!, y!);
    pen.to(x!, y!);
  },
  v: (c, pen, [d, e, x, y]) => {
    c.bezierCurveTo(pen.x, pen.y, d!, e!, x!, y!);
    pen.to(x!, y!);
  },
  y: (c, pen, [a, b, x, y]) => {
    c.bezierCurveTo(a!, b!, x!, y!, x!, y!);
    pen.to(x!, y!);
  },
  h: (c) => c.closePath(),
  re: (c, pen, [x, y, w, h]) => {
    c.rect(x!, y!, w!, h!);
    pen.to(x!, y!);
  },
  w: (c, _, [width]) => (c.lineWidth = Math.max(width!, 1e-3)),
  J: (c, _, [cap]) => (c.lineCap = caps[cap!] ?? 'butt'),
  j: (c, _, [join]) => (c.lineJoin = joins[join!] ?? 'miter'),
  M: (c, _, [limit]) => (c.miterLimit = limit!),
  d: (c, _, n) => {
    c.setLineDash(n.slice(0, -1));
    c.lineDashOffset = n.at(-1) ?? 0;
  },
  rg: (_, pen, n) => (pen.fillColour = rgb(n)),
  RG: (_, pen, n) => (pen.strokeColour = rgb(n)),
  g: (_, pen, [n]) => (pen.fillColour = rgb([n!, n!, n!])),
  G: (_, pen, [n]) => (pen.strokeColour = rgb([n!, n!, n!])),
  W: (_, pen) => (pen.clip = 'nonzero'),
  'W*': (_, pen) => (pen.clip = 'evenodd'),
  n: paint(null, false),
  f: paint('nonzero', false),
  F: paint('nonzero', false),
  'f*': paint('evenodd', false),
  S: paint(null, true),
  s: paint(null, true, true),
  B: paint('nonzero', true),
  'B*': paint('evenodd', true),
  b: paint('nonzero', true, true),
  'b*': paint('evenodd', true, true),
};

/** Draws what the operators of a content stream say: paths, how they are filled and stroked, and clips, which stay. */
export function drawPath(
  context: CanvasRenderingContext2D,
  text: string,
  fillOpacity: number,
  strokeOpacity: number,
): void {
  const pen = new Pen();
  const numbers: number[] = [];
  // PDF's lines are black unless it is said (8.4.1).
  pen.fillColour = pen.strokeColour = rgb([0, 0, 0]);
  context.lineWidth = 1;
  context.miterLimit = 10;
  context.beginPath();
  for (const token of text.split(/[\s[\]]+/)) {
    if (token === '') continue;
    const number = Number(token);
    if (!Number.isNaN(number)) {
      numbers.push(number);
      continue;
    }
    operators[token]?.(context, pen, numbers);
    numbers.length = 0;
    if (!/^(n|[fFsSbB]\*?)$/.test(token)) continue;
    if (pen.fill) {
      context.globalAlpha = fillOpacity;
      context.fillStyle = pen.fillColour;
      context.fill(pen.fill);
    }
    if (pen.strokes) {
      context.globalAlpha = strokeOpacity;
      context.strokeStyle = pen.strokeColour;
      context.stroke();
    }
    context.globalAlpha = 1;
    if (pen.clip) context.clip(pen.clip);
    pen.clip = pen.fill = null;
    pen.strokes = false;
    context.beginPath();
  }
}
