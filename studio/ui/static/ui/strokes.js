// Strokes over a photo, by finger, pen or keys, and the slider between it and its forecast.

const STEP = 8; // pixels that an arrow moves the brush; one with shift
const STRAY = 2; // pixels between two points that are told apart
const POINTS_MOST = 400;
let line = null; // the stroke that is being drawn: its canvas and points in the canvas's pixels
const brush = { x: 0, y: 0, isDown: false };

function canvasOf(target) {
  return target.closest?.("canvas[data-strokes]");
}

// Without script a tap on the picture beneath is the stroke: with it the canvas lies over that.
function uncover() {
  for (const canvas of document.querySelectorAll("canvas[data-strokes]")) {
    if (!line) paint(canvas, []);
    if (!canvas.hidden) continue;
    canvas.hidden = false;
    canvas.closest("form").querySelector("input[type=image]").inert = true;
    brush.x = canvas.width / 2;
    brush.y = canvas.height / 2;
    brush.isDown = false;
  }
  slide();
}

function placeOf(event, canvas) {
  const box = canvas.getBoundingClientRect();
  return {
    x: Math.min(Math.max(((event.clientX - box.left) / box.width) * canvas.width, 0), canvas.width),
    y: Math.min(Math.max(((event.clientY - box.top) / box.height) * canvas.height, 0), canvas.height),
  };
}

function paint(canvas, points, mark) {
  const pen = canvas.getContext("2d");
  pen.clearRect(0, 0, canvas.width, canvas.height);
  pen.lineCap = pen.lineJoin = "round";
  for (const [width, ink] of [[9, "#000000"], [5, "#ffffff"]]) {
    pen.lineWidth = width;
    pen.strokeStyle = ink;
    pen.beginPath();
    points.forEach(({ x, y }, at) => (at ? pen.lineTo(x, y) : pen.moveTo(x, y)));
    if (points.length === 1) pen.lineTo(points[0].x + 0.1, points[0].y);
    pen.stroke();
    if (mark) pen.strokeRect(mark.x - 10, mark.y - 10, 20, 20);
  }
}

function add(point) {
  const last = line.points.at(-1);
  if (last && Math.hypot(last.x - point.x, last.y - point.y) < STRAY) return;
  if (line.points.length < POINTS_MOST) line.points.push(point);
}

function send() {
  const { canvas, points } = line;
  line = null;
  const form = canvas.closest("form");
  const shares = points.map(({ x, y }) => [+(x / canvas.width).toFixed(4), +(y / canvas.height).toFixed(4)]);
  form.elements.points.value = JSON.stringify(shares);
  form.requestSubmit();
}

document.addEventListener("pointerdown", (event) => {
  const canvas = canvasOf(event.target);
  if (!canvas || event.button !== 0) return;
  event.preventDefault();
  canvas.focus({ preventScroll: true });
  canvas.setPointerCapture(event.pointerId);
  line = { canvas, points: [] };
  add(placeOf(event, canvas));
  paint(canvas, line.points);
});
document.addEventListener("pointermove", (event) => {
  if (!line || canvasOf(event.target) !== line.canvas || line.canvas.dataset.strokes === "tap") return;
  for (const each of event.getCoalescedEvents?.() ?? [event]) add(placeOf(each, line.canvas));
  paint(line.canvas, line.points);
});
document.addEventListener("pointerup", () => { if (line && !brush.isDown) send(); });
document.addEventListener("pointercancel", () => {
  if (line && !brush.isDown) paint(line.canvas, []);
  line = null;
});

const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
document.addEventListener("keydown", (event) => {
  const canvas = canvasOf(event.target);
  if (!canvas || event.ctrlKey || event.metaKey || event.altKey) return;
  const way = ARROWS[event.key];
  if (way) {
    const far = event.shiftKey ? 1 : STEP;
    brush.x = Math.min(Math.max(brush.x + far * way[0], 0), canvas.width);
    brush.y = Math.min(Math.max(brush.y + far * way[1], 0), canvas.height);
    if (brush.isDown) add({ ...brush });
  } else if (event.key === " " || event.key === "Enter") {
    if (brush.isDown || canvas.dataset.strokes === "tap") {
      line ??= { canvas, points: [] };
      add({ ...brush });
      brush.isDown = false;
      send();
      event.preventDefault();
      return;
    }
    line = { canvas, points: [{ ...brush }] };
    brush.isDown = true;
  } else return;
  event.preventDefault();
  paint(canvas, line?.points ?? [], brush);
});
document.addEventListener("focusin", (event) => {
  const canvas = canvasOf(event.target);
  if (canvas && !line && canvas.matches(":focus-visible")) paint(canvas, [], brush);
});

function slide() {
  const slider = document.getElementById("id_over");
  document.querySelector("[data-slides]")?.style.setProperty("--over", `${slider?.value ?? 0}%`);
}
document.addEventListener("input", (event) => { if (event.target.id === "id_over") slide(); });
document.addEventListener("htmx:afterSettle", uncover);
uncover();
