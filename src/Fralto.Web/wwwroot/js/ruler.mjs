// Flags of a ruler: dragged by hand or nudged by keys, they write into the form's fields; the server draws the ruler anew from the form.
const svgOf = flag => flag.closest('svg');
const numbers = svg => Object.fromEntries(['left', 'right', 'low', 'high', 'step'].map(n => [n, Number(svg.dataset[n])]));
const decimals = step => Math.max(0, Math.round(-Math.log10(step)));
let drag;

function snapped(flag, value) {
  const { step } = numbers(svgOf(flag));
  const snap = Math.round(value / step) * step;
  const held = Math.min(Math.max(snap, Number(flag.getAttribute('aria-valuemin'))), Number(flag.getAttribute('aria-valuemax')));
  return Number(held.toFixed(decimals(step)));
}

function write(flag, value) {
  const field = document.querySelector(`#property-form [name="${flag.dataset.field}"]`);
  if (!field || (Number(field.value) === value && field.value !== '')) return;
  field.value = `${value}`;
  flag.setAttribute('aria-valuenow', `${value}`);
  field.dispatchEvent(new Event('input', { bubbles: true }));
}

const redraw = () => document.querySelector('#ruler')?.dispatchEvent(new CustomEvent('redraw'));

addEventListener('pointerdown', event => {
  const flag = event.target.closest?.('.ruler .flag');
  if (!flag || event.button !== 0) return;
  event.preventDefault();
  flag.focus();
  drag = { flag, from: event.clientX, value: Number(flag.getAttribute('aria-valuenow')), at: Number(flag.getAttribute('aria-valuenow')) };
  flag.setPointerCapture(event.pointerId);
});
addEventListener('pointermove', event => {
  if (!drag) return;
  const svg = svgOf(drag.flag);
  const { left, right, low, high } = numbers(svg);
  const scale = svg.viewBox.baseVal.width / svg.getBoundingClientRect().width;
  const perUnit = (right - left) / (high - low);
  drag.at = snapped(drag.flag, drag.value + ((event.clientX - drag.from) * scale) / perUnit);
  drag.flag.setAttribute('transform', `translate(${(drag.at - drag.value) * perUnit} 0)`);
  drag.flag.querySelector('.letters').textContent = `${drag.flag.querySelector('.letters').textContent.split(' ')[0]} ${drag.at}`;
});
function drop() {
  if (!drag) return;
  const { flag, at } = drag;
  drag = undefined;
  write(flag, at);
  redraw();
}
addEventListener('pointerup', drop);
addEventListener('pointercancel', drop);

// Arrow keys move by the resolution, with Shift by ten of it, Home and End as far as the neighbours let.
addEventListener('keydown', event => {
  const flag = event.target.closest?.('.ruler .flag');
  if (!flag || event.ctrlKey || event.altKey || event.metaKey) return;
  const { step } = numbers(svgOf(flag));
  const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
  const now = Number(flag.getAttribute('aria-valuenow'));
  let to;
  if (by) to = now + by * step * (event.shiftKey ? 10 : 1);
  else if (event.key === 'Home') to = Number(flag.getAttribute('aria-valuemin'));
  else if (event.key === 'End') to = Number(flag.getAttribute('aria-valuemax'));
  else return;
  event.preventDefault();
  write(flag, snapped(flag, to));
  redraw();
});
// Typing into the form redraws too, a moment later; while a flag is in hand nothing is drawn under it.
addEventListener('input', event => {
  if (!event.isTrusted || !event.target.closest?.('#property-form')) return;
  clearTimeout(redraw.timer);
  redraw.timer = setTimeout(redraw, 300);
});
document.body.addEventListener('htmx:beforeRequest', event => {
  if (drag && event.target.id === 'ruler') event.preventDefault();
});
