// Alarms by keyboard: arrows go from one to the next, Enter opens, A acknowledges, S shelves, N goes to what is due next, 1 to 4 choose a
// priority, Q opens what is kept quiet, Escape closes.
const links = () => [...document.querySelectorAll('.alarmlink')];
const comment = () => document.querySelector('[data-alarm-comment]');

document.addEventListener('submit', event => {
  const form = event.target.closest('[data-shelves]');
  if (!form) return;
  form.elements.comment.value = comment()?.value ?? '';
  if (form.elements.comment.value.trim()) return;
  event.preventDefault();
  comment()?.focus();
  comment()?.setAttribute('aria-invalid', 'true');
});

addEventListener('keydown', event => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === 'Escape') {
    const close = document.querySelector('[data-close]');
    if (close && !event.target.closest('#find')) close.click();
    return;
  }
  if (event.target.closest('input, textarea, select')) return;
  const all = links();
  const at = all.indexOf(document.activeElement?.closest?.('.alarmlink'));
  const key = event.key.toLowerCase();
  if (key === 'arrowdown' || key === 'arrowup') {
    if (all.length === 0) return;
    event.preventDefault();
    const on = at >= 0 ? at : all.findIndex(a => a.getAttribute('aria-expanded') === 'true');
    all[Math.min(all.length - 1, Math.max(0, on + (key === 'arrowdown' ? 1 : -1)))].focus();
  } else if (key === 'a') {
    const row = at >= 0 ? all[at].closest('tr').querySelector('form button') : document.querySelector('[data-acknowledge]');
    row?.click();
  } else if (key === 's') {
    if (comment()) {
      event.preventDefault();
      comment().focus();
    } else if (at >= 0) all[at].click();
  } else if (key === 'n') document.querySelector('[data-next-due]')?.click();
  else if (key === 'q') {
    const away = [...document.querySelectorAll('details.away')];
    const open = away.some(d => !d.open);
    for (const one of away) one.open = open;
  } else if (/^[1-4]$/.test(key)) document.querySelector(`[data-priority="${key}"]`)?.click();
});

// Where the order goes by time, what comes anew would push rows from under the pointer: the board waits until it has gone, and says so.
const keysOf = root => [...root.querySelectorAll('.alarmlink')].map(a => a.dataset.alarm);
const held = () => {
  const board = document.querySelector('.alarmboard:hover');
  return board && board.dataset.order !== 'Process' ? board : null;
};
document.body.addEventListener('htmx:beforeSwap', event => {
  const board = event.detail.target?.id === 'lists' && held();
  if (!board) return;
  const next = keysOf(new DOMParser().parseFromString(event.detail.serverResponse, 'text/html'));
  const now = keysOf(board);
  if (next.length === now.length && next.every((key, i) => key === now[i])) return;
  event.detail.shouldSwap = false;
  document.querySelector('[data-held]').textContent = 'the order has changed; it is drawn when the pointer leaves';
  board.addEventListener('mouseleave', () => document.body.dispatchEvent(new CustomEvent('alarms')), { once: true });
});

// What was open stays open when the board is drawn anew.
document.body.addEventListener('htmx:beforeSwap', event => {
  if (event.detail.target?.id !== 'lists' || !event.detail.shouldSwap) return;
  const open = [...document.querySelectorAll('details.away[open]')].map(d => d.dataset.away);
  document.body.addEventListener(
    'htmx:afterSwap',
    () => {
      for (const one of document.querySelectorAll('details.away')) one.open = open.includes(one.dataset.away);
    },
    { once: true },
  );
});
