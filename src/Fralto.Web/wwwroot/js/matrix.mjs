// The matrix by hand: arrow keys walk the cells, typing filters the tags, Enter binds, a column is pasted, a tag is dragged.
// The page is never left while a hand is on it: what changes is fetched and put in place, and every key finds its field.
const cells = () => [...document.querySelectorAll('a.cell')];
const cellOf = key => document.querySelector(`a.cell[data-cell="${CSS.escape(key)}"]`);
const urlOf = cell => new URL(cell.href);
const scroller = () => document.querySelector('[data-keep-scroll]');
const filter = () => document.querySelector('[data-tag-filter]');
const list = () => document.querySelector('[data-listed]');
const rows = () => [...document.querySelectorAll('#taglist tr[data-tag]')];
const picks = () => [...document.querySelectorAll('#taglist button.pick')];
const shown = () => new URL(location.href).searchParams.get('cell') ?? '';

const place = () => location.search.replace(/[?&](cell|filter|mark|moving)=[^&]*/g, '');
const kept = JSON.parse(sessionStorage.getItem('fralto-matrix') ?? 'null');
if (scroller() && kept?.place === place()) [scroller().scrollTop, scroller().scrollLeft] = [kept.top, kept.left];
addEventListener('pagehide', () => {
  if (scroller())
    sessionStorage.setItem('fralto-matrix', JSON.stringify({ place: place(), top: scroller().scrollTop, left: scroller().scrollLeft }));
});

// How often the page was drawn anew, so that what was asked of an earlier one is not put into a later.
let drawn = 0;
// What a hand holds: a pressed button that may become a drag, what is dragged, and a tag that lights cells (lit again after tables were
// put in).
const hand = { isPressed: false, dragged: null, relight: () => {} };
document.addEventListener(
  'pointerdown',
  () => {
    hand.isPressed = true;
  },
  true,
);
for (const end of ['pointerup', 'pointercancel'])
  document.addEventListener(
    end,
    () => {
      hand.isPressed = false;
    },
    true,
  );
async function released() {
  while (hand.isPressed || hand.dragged)
    await new Promise(resolve => {
      setTimeout(resolve, 50);
    });
}

// What an edit has made of the page is put in place of it; the field that is being typed in keeps its text, its cursor and its cell.
function put(text) {
  drawn++;
  const page = new DOMParser().parseFromString(text, 'text/html');
  const fresh = page.querySelector('#main');
  if (!fresh?.querySelector('[data-matrix-form]')) return false;
  const { scrollTop, scrollLeft } = scroller() ?? {};
  const held = document.activeElement;
  const cell = held?.closest?.('a.cell[data-cell]')?.dataset.cell;
  const typing = held === filter() ? { cell: shown(), text: held.value, at: held.selectionStart } : null;
  document.querySelector('#main').replaceChildren(...fresh.childNodes);
  for (const old of document.querySelectorAll('nav.top form.turn')) old.remove();
  document.querySelector('nav.top .find').after(...page.querySelectorAll('nav.top form.turn'));
  for (const old of document.querySelectorAll('body > .done')) old.remove();
  document.querySelector('#main').before(...page.querySelectorAll('body > .done'));
  htmx.process(document.querySelector('#main'));
  document.querySelector('#main').dispatchEvent(new CustomEvent('htmx:afterSettle', { bubbles: true }));
  if (scroller()) [scroller().scrollTop, scroller().scrollLeft] = [scrollTop, scrollLeft];
  stop(cellOf(cell ?? shown()) ?? document.querySelector('a.cell.here') ?? cells()[0]);
  if (typing && cellOf(typing.cell)) type(cellOf(typing.cell), typing.text, typing.at);
  else if (cell && cell === shown() && filter()?.hasAttribute('autofocus')) filter().focus();
  else if (cell) cellOf(cell)?.focus({ preventScroll: true });
  follow();
  return true;
}

// A large plant's proposals take longer than its matrix: they are put into it when they are there.
async function follow() {
  if (!document.querySelector('[data-pending]')) return;
  const url = new URL(location.href);
  const from = drawn;
  url.searchParams.set('wait', 'true');
  const answer = await fetch(url, { headers: { accept: 'text/html' } }).catch(() => null);
  const text = answer?.ok ? await answer.text() : null;
  await released();
  if (from !== drawn) return;
  if (text !== null) graft(new DOMParser().parseFromString(text, 'text/html'));
  else document.querySelector('[data-pending]')?.replaceChildren('What to propose could not be worked out now; load the page again.');
}

// Only what shows proposals; what a hand is in stays as it is.
function graft(page) {
  const held = document.activeElement;
  const cell = held?.closest?.('a.cell[data-cell]')?.dataset.cell;
  const head = document.querySelector('#panehead');
  const isTouched = head.contains(held) || [...head.querySelectorAll('input, textarea')].some(f => f.value !== f.defaultValue);
  for (const part of [
    '[data-keep-scroll]',
    '.learned',
    ...(isTouched || shown() !== (page.querySelector('a.cell.here')?.dataset.cell ?? '') ? [] : ['#panehead']),
  ]) {
    const [old, fresh] = [document.querySelector(part), page.querySelector(part)];
    if (!old || !fresh) continue;
    const { scrollTop, scrollLeft } = old;
    old.replaceChildren(...fresh.childNodes);
    htmx.process(old);
    [old.scrollTop, old.scrollLeft] = [scrollTop, scrollLeft];
    old.dispatchEvent(new CustomEvent('htmx:afterSettle', { bubbles: true }));
  }
  const here = cellOf(shown());
  for (const other of cells()) other.classList.toggle('here', other === here);
  stop(cellOf(cell ?? shown()) ?? cells()[0]);
  if (cell) cellOf(cell)?.focus({ preventScroll: true });
  hand.relight();
}

let sending = Promise.resolve();
function send(handler, cell, fields) {
  const form = document.querySelector('[data-matrix-form]');
  const to = cell ? urlOf(cell) : new URL(location.href);
  to.searchParams.delete('filter');
  to.searchParams.set('handler', handler);
  for (const [name, value] of Object.entries(fields ?? {})) form.elements[name].value = value;
  return post(to, new FormData(form));
}
// One after the other, in the order of the hand.
function post(to, fields) {
  const body = new URLSearchParams(fields);
  sending = sending.then(async () => {
    try {
      const answer = await fetch(to, { method: 'POST', body, headers: { accept: 'text/html' } });
      const text = await answer.text();
      const url = answer.redirected ? answer.url : to.href.replace(/([?&])handler=[^&]*&?/, '$1').replace(/[?&]$/, '');
      if (!put(text)) location.assign(url);
    } catch {
      tell('Fralto does not answer; nothing is known of the last key. Look again before going on.');
    }
  });
  return sending;
}

function tell(words) {
  const at = document.querySelector('[data-typed-why]');
  if (!at) return;
  at.textContent = words;
  at.hidden = words === '';
}
function choose(pick) {
  for (const other of picks()) other.classList.toggle('chosen', other === pick);
  pick?.scrollIntoView({ block: 'nearest' });
}
const chosen = () => picks().find(p => p.classList.contains('chosen'));

// The cell becomes the one that is looked at, in place: its own part of the pane and its tags are fetched, the field is there at once.
function look(cell) {
  for (const other of cells()) other.classList.toggle('here', other === cell);
  stop(cell);
  const url = urlOf(cell);
  history.replaceState(null, '', url);
  const ask = handler => {
    const at = new URL(url);
    at.searchParams.set('handler', handler);
    return `${at.pathname}${at.search}`;
  };
  const field = filter();
  field.setAttribute('hx-get', ask('Tags'));
  htmx.process(field);
  htmx.ajax('GET', ask('Head'), { target: '#panehead', swap: 'innerHTML', source: document.querySelector('#panehead') });
}
function type(cell, text, at = text.length) {
  const field = filter();
  if (!field) return;
  look(cell);
  field.value = text;
  field.focus();
  field.setSelectionRange(at, at);
  ask();
}
// The list that is shown belongs to a cell and a text; while it does not belong to what is typed, the server is asked what the text means.
const settled = () => list()?.dataset.listed === filter()?.value.trim() && list()?.dataset.of === shown();
function ask() {
  if (!settled()) htmx.trigger(filter(), 'ask');
}
function enter() {
  const text = filter().value.trim();
  if (!text && !chosen()) return;
  const named = rows().filter(row => row.dataset.name.toLowerCase() === text.toLowerCase());
  const only = settled()
    ? (chosen() ?? (named.length === 1 ? named[0].querySelector('button.pick') : rows().length === 1 ? picks()[0] : undefined))
    : undefined;
  if (settled() && !only) {
    if (named.length === 1 || rows().length === 1) tell((named[0] ?? rows()[0]).title || 'This tag feeds something already.');
    else
      tell(
        rows().length === 0
          ? 'No tag matches; nothing is bound.'
          : `${list().dataset.count} tags match; go on typing, or choose one with the arrow keys.`,
      );
    return;
  }
  // The hand is free for the next cell at once.
  const cell = cellOf(shown());
  tell('');
  if (only) post(new URL(only.form.action), new FormData(only.form));
  else send('Type', cell, { text });
  filter().value = '';
  cell?.focus({ preventScroll: true });
}

// One cell is in the order of Tab, the arrows lead to the others.
function stop(cell) {
  for (const other of cells()) other.tabIndex = other === cell ? 0 : -1;
}

if (document.querySelector('[data-matrix-form]')) {
  follow();
  const here = document.querySelector('a.cell.here');
  if (filter()?.hasAttribute('autofocus')) {
    filter().focus();
    filter().setSelectionRange(filter().value.length, filter().value.length);
  } else here?.focus({ preventScroll: false });
  stop(here ?? cells()[0]);

  const beside = (cell, key) => {
    const [td, row] = [cell.closest('td'), cell.closest('tr')];
    const inRow = [...row.querySelectorAll('a.cell')];
    const at = inRow.indexOf(cell);
    if (key === 'ArrowLeft') return inRow[at - 1];
    if (key === 'ArrowRight') return inRow[at + 1];
    if (key === 'Home') return inRow[0];
    if (key === 'End') return inRow.at(-1);
    const all = [...document.querySelectorAll('[data-matrix] tbody tr')].filter(r => r.querySelector('a.cell'));
    const next = all[all.indexOf(row) + (key === 'ArrowUp' ? -1 : 1)];
    return next && (next.children[td.cellIndex]?.querySelector('a.cell') ?? next.querySelector('a.cell'));
  };
  document.addEventListener('keydown', event => {
    const cell = event.target.closest?.('a.cell[data-cell]');
    if (!cell || event.ctrlKey || event.metaKey || event.altKey) return;
    if (['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown', 'Home', 'End'].includes(event.key)) {
      event.preventDefault();
      const to = beside(cell, event.key);
      if (to) to.focus();
      else if (event.key === 'ArrowDown') document.querySelector('[data-later]')?.click();
      else if (event.key === 'ArrowUp') document.querySelector('[data-earlier]')?.click();
    } else if (event.key === 'Delete' && cell.dataset.bound) {
      event.preventDefault();
      send('Unbind', cell);
    } else if (event.key.length === 1 && event.key !== ' ' && event.key !== '/') {
      event.preventDefault();
      tell('');
      type(cell, event.key);
    }
  });
  document.addEventListener('paste', event => {
    const cell = document.activeElement?.closest?.('a.cell[data-cell]');
    const text = event.clipboardData?.getData('text/plain');
    if (!cell || !text) return;
    event.preventDefault();
    send('Paste', cell, { text });
  });

  // A tag in hand lights the cells it fits; the others say why not. A bound cell dragged onto another swaps the two.
  let lit = null;
  const why = document.querySelector('[data-drag-why]');
  function unlight() {
    lit = null;
    why.hidden = true;
    for (const pick of document.querySelectorAll('[data-light]')) pick.setAttribute('aria-pressed', 'false');
    for (const at of cells()) {
      at.classList.remove('fits', 'nofit', 'over');
      if (at.dataset.said !== undefined) at.title = at.dataset.said;
      delete at.dataset.said;
    }
  }
  async function light(tag, still) {
    const ask = new URL(location.href);
    ask.searchParams.set('handler', 'Fits');
    ask.searchParams.set('tagId', tag);
    const answer = await fetch(ask);
    if (!answer.ok || !still()) return;
    const fits = await answer.json();
    for (const at of cells()) {
      const reason = at.dataset.bound ? null : fits[at.dataset.column];
      at.classList.toggle('fits', reason === '');
      at.classList.toggle('nofit', Boolean(reason));
      if (reason) {
        at.dataset.said ??= at.title;
        at.title = reason;
      }
    }
  }
  hand.relight = () => {
    if (lit) light(lit, () => lit !== null);
  };
  document.addEventListener('click', event => {
    const pick = event.target.closest?.('[data-light]');
    if (!pick) return;
    const again = lit === pick.dataset.light;
    unlight();
    if (again) return;
    lit = pick.dataset.light;
    pick.setAttribute('aria-pressed', 'true');
    light(lit, () => lit === pick.dataset.light);
  });
  document.addEventListener('keydown', event => {
    const cell = event.target.closest?.('a.cell[data-cell]');
    if (event.key === 'Escape') unlight();
    if (event.key !== 'Enter' || !lit || !cell?.classList.contains('fits')) return;
    event.preventDefault();
    send('Bind', cell, { tagId: lit });
  });
  document.addEventListener('dragstart', event => {
    const [row, cell] = [event.target.closest?.('tr[data-tag]'), event.target.closest?.('a.cell[data-bound]')];
    if (!row && !cell?.dataset.bound) return;
    unlight();
    const dragged = (hand.dragged = { tag: row?.dataset.tag ?? cell.dataset.bound, from: row ? null : cell });
    event.dataTransfer.effectAllowed = 'move';
    event.dataTransfer.setData('text/plain', dragged.tag);
    if (row) light(dragged.tag, () => hand.dragged === dragged);
    else for (const at of cells()) at.classList.toggle('fits', at !== cell);
  });
  document.addEventListener('dragover', event => {
    const cell = event.target.closest?.('a.cell[data-cell]');
    for (const other of document.querySelectorAll('a.cell.over')) if (other !== cell) other.classList.remove('over');
    if (!hand.dragged) return;
    why.hidden = !cell?.classList.contains('nofit');
    if (!why.hidden && why.textContent !== cell.title) why.textContent = cell.title;
    if (!cell || cell.classList.contains('nofit')) return;
    event.preventDefault();
    cell.classList.add('over');
  });
  document.addEventListener('drop', event => {
    const cell = event.target.closest?.('a.cell[data-cell]');
    const dragged = hand.dragged;
    if (!dragged || !cell) return;
    event.preventDefault();
    if (dragged.from && dragged.from !== cell) send('Swap', cell, { other: dragged.from.dataset.cell });
    else if (!dragged.from) send('Bind', cell, { tagId: dragged.tag });
  });
  document.addEventListener('dragend', () => {
    hand.dragged = null;
    unlight();
  });

  document.addEventListener('focusin', event => {
    const cell = event.target.closest?.('a.cell[data-cell]');
    if (cell && cell.tabIndex !== 0) stop(cell);
  });
  document.addEventListener('input', event => {
    if (event.target !== filter()) return;
    tell('');
  });
  document.addEventListener('keydown', event => {
    if (event.target !== filter()) return;
    const all = picks();
    const at = all.indexOf(chosen());
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      choose(all[Math.max(0, Math.min(all.length - 1, at + (event.key === 'ArrowDown' ? 1 : -1)))]);
    } else if (event.key === 'Enter') {
      event.preventDefault();
      enter();
    } else if (event.key === 'Escape') {
      tell('');
      cellOf(shown())?.focus();
    }
  });
  document.body.addEventListener('htmx:afterSwap', event => {
    if (event.target.id !== 'taglist') return;
    ask();
  });
}
