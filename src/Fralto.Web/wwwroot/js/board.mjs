// The board by hand: arrow keys walk the cells, typing filters the tags, Enter binds, a column is pasted, a tag is dragged.
const board = document.querySelector('[data-board]');
const form = document.querySelector('[data-board-form]');
const scroller = document.querySelector('[data-keep-scroll]');
const cells = () => [...document.querySelectorAll('a.cell')];
const urlOf = cell => new URL(cell.href);

if (scroller) {
  const kept = JSON.parse(sessionStorage.getItem('fralto-board') ?? 'null');
  const place = location.search.replace(/[?&](cell|filter|mark|moving)=[^&]*/g, '');
  if (kept?.place === place) [scroller.scrollTop, scroller.scrollLeft] = [kept.top, kept.left];
  addEventListener('pagehide', () => sessionStorage.setItem('fralto-board', JSON.stringify({ place, top: scroller.scrollTop, left: scroller.scrollLeft })));
}

function send(handler, cell, fields) {
  const to = cell ? urlOf(cell) : new URL(location.href);
  to.searchParams.delete('filter');
  to.searchParams.set('handler', handler);
  form.action = to.pathname + to.search;
  for (const [name, value] of Object.entries(fields ?? {})) form.elements[name].value = value;
  form.submit();
}

const filter = document.querySelector('[data-tag-filter]');
const picks = () => [...document.querySelectorAll('#taglist button.pick')];
function choose(pick) {
  for (const other of picks()) other.classList.toggle('chosen', other === pick);
  pick?.scrollIntoView({ block: 'nearest' });
}

if (board) {
  const here = document.querySelector('a.cell.here');
  if (filter?.hasAttribute('autofocus')) {
    filter.focus();
    filter.setSelectionRange(filter.value.length, filter.value.length);
  } else here?.focus({ preventScroll: false });

  const beside = (cell, key) => {
    const [td, row] = [cell.closest('td'), cell.closest('tr')];
    const inRow = [...row.querySelectorAll('a.cell')];
    const at = inRow.indexOf(cell);
    if (key === 'ArrowLeft') return inRow[at - 1];
    if (key === 'ArrowRight') return inRow[at + 1];
    if (key === 'Home') return inRow[0];
    if (key === 'End') return inRow.at(-1);
    const rows = [...document.querySelectorAll('[data-board] tbody tr')].filter(r => r.querySelector('a.cell'));
    const next = rows[rows.indexOf(row) + (key === 'ArrowUp' ? -1 : 1)];
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
      const to = urlOf(cell);
      to.searchParams.set('filter', event.key);
      location.assign(to);
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
  let dragged = null;
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
    const hand = dragged = { tag: row?.dataset.tag ?? cell.dataset.bound, from: row ? null : cell };
    event.dataTransfer.effectAllowed = 'move';
    event.dataTransfer.setData('text/plain', dragged.tag);
    if (row) light(hand.tag, () => dragged === hand);
    else for (const at of cells()) at.classList.toggle('fits', at !== cell);
  });
  document.addEventListener('dragover', event => {
    const cell = event.target.closest?.('a.cell[data-cell]');
    for (const other of document.querySelectorAll('a.cell.over')) if (other !== cell) other.classList.remove('over');
    if (!dragged) return;
    why.hidden = !cell?.classList.contains('nofit');
    if (!why.hidden && why.textContent !== cell.title) why.textContent = cell.title;
    if (!cell || cell.classList.contains('nofit')) return;
    event.preventDefault();
    cell.classList.add('over');
  });
  document.addEventListener('drop', event => {
    const cell = event.target.closest?.('a.cell[data-cell]');
    if (!dragged || !cell) return;
    event.preventDefault();
    if (dragged.from && dragged.from !== cell) send('Swap', cell, { other: dragged.from.dataset.cell });
    else if (!dragged.from) send('Bind', cell, { tagId: dragged.tag });
  });
  document.addEventListener('dragend', () => {
    dragged = null;
    unlight();
  });

  // One cell is in the order of Tab, the arrows lead to the others.
  const stop = cell => {
    for (const other of cells()) other.tabIndex = other === cell ? 0 : -1;
  };
  stop(here ?? cells()[0]);
  document.addEventListener('focusin', event => {
    const cell = event.target.closest?.('a.cell[data-cell]');
    if (cell && cell.tabIndex !== 0) stop(cell);
  });
}

filter?.addEventListener('keydown', event => {
  const all = picks();
  const at = all.findIndex(p => p.classList.contains('chosen'));
  if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
    event.preventDefault();
    choose(all[Math.max(0, Math.min(all.length - 1, at + (event.key === 'ArrowDown' ? 1 : -1)))]);
  } else if (event.key === 'Enter') {
    event.preventDefault();
    (all[at] ?? all[0])?.click();
  } else if (event.key === 'Escape') document.querySelector('a.cell.here')?.focus();
});
document.body.addEventListener('htmx:afterSwap', event => {
  if (event.target.id === 'taglist') choose(picks()[0]);
});
