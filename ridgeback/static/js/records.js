/* A chart is read by finger, pointer and arrow keys: the values come with the page. */
const chart = document.querySelector("[data-chart]");
const said = document.querySelector("[data-chart-said]");
const data = document.getElementById("chart-read-out");

if (chart && said && data) {
  const points = JSON.parse(data.textContent);
  const drawing = chart.querySelector("svg");
  const mark = document.createElementNS("http://www.w3.org/2000/svg", "line");
  let at = points.length;
  mark.setAttribute("class", "chart-mark");
  mark.setAttribute("y1", "14");
  mark.setAttribute("y2", "260");

  const show = (n) => {
    at = Math.min(Math.max(n, 0), points.length - 1);
    const x = points[at][0] * drawing.viewBox.baseVal.width;
    drawing.append(mark);
    mark.setAttribute("x1", x);
    mark.setAttribute("x2", x);
    said.textContent = points[at][1];
  };
  const nearest = (share) => {
    let best = 0;
    for (let n = 1; n < points.length; n += 1) {
      if (Math.abs(points[n][0] - share) < Math.abs(points[best][0] - share)) best = n;
    }
    return best;
  };
  const read = (event) => {
    const frame = drawing.getBoundingClientRect();
    show(nearest((event.clientX - frame.left) / frame.width));
  };
  if (points.length) {
    chart.addEventListener("pointermove", read);
    chart.addEventListener("pointerdown", read);
    chart.addEventListener("keydown", (event) => {
      const step = { ArrowLeft: -1, ArrowRight: 1, PageUp: -24, PageDown: 24 }[event.key];
      if (step === undefined) return;
      event.preventDefault();
      show(at + step);
    });
    chart.dataset.ready = "yes";
  }
}
