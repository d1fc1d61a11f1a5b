// What is fetched again and again is not drawn anew under a hand: a button that goes between press and release is never pressed. And
// what the keys have hold of stays in hold when its piece is drawn anew.
const isPolled = element => element?.matches?.('[hx-trigger*=every]');

let pressed;
let isLate = false;
addEventListener('pointerdown', event => (pressed = event.target), true);
function release() {
  pressed = undefined;
  if (!isLate) return;
  isLate = false;
  // Lists of alarms are asked for when alarms change; all else comes again by itself in a moment. First the click does what it does.
  setTimeout(() => document.body.dispatchEvent(new CustomEvent('alarms')));
}
for (const end of ['pointerup', 'pointercancel', 'dragend']) addEventListener(end, release, true);
// Released outside the window, which nobody tells.
addEventListener('pointermove', event => {
  if (pressed && event.buttons === 0) release();
});
document.body.addEventListener('htmx:beforeSwap', event => {
  if (!isPolled(event.detail.requestConfig.elt) || !event.detail.target.contains(pressed)) return;
  event.detail.shouldSwap = false;
  isLate = true;
});

const able = 'a[href], button, input, select, summary, [tabindex]';
const nameOf = element =>
  element.id || [element.tagName, element.getAttribute('href'), element.name, element.value, element.textContent.trim()].join('\n');
const alike = name => [...document.querySelectorAll(able)].filter(element => nameOf(element) === name);
let held;
document.body.addEventListener('htmx:beforeSwap', event => {
  const focused = document.activeElement;
  if (!event.detail.shouldSwap || !isPolled(event.detail.requestConfig.elt)) return;
  if (!event.detail.target.contains(focused) || !focused.matches(able)) return;
  const name = nameOf(focused);
  held = { name, at: alike(name).indexOf(focused) };
});
document.body.addEventListener('htmx:afterSettle', () => {
  if (held && document.activeElement === document.body) alike(held.name)[held.at]?.focus({ preventScroll: true });
  held = undefined;
});
