// Fields that hold a unit: what is typed is searched for by symbol, name, quantity and code; with nothing typed the units used last come
// first.
let list;
let field;
let asked = 0;

function close() {
  list?.remove();
  list = undefined;
  field?.setAttribute('aria-expanded', 'false');
  field?.removeAttribute('aria-activedescendant');
}

async function open(at) {
  const mine = ++asked;
  // A unit that is there already is no search: show the ones used last.
  const q = at.dataset.typed === 'yes' ? at.value.trim() : '';
  const answer = await fetch(`/units?handler=Suggest&q=${encodeURIComponent(q)}`);
  const found = await answer.text();
  if (mine !== asked || document.activeElement !== at || !answer.ok) return;
  // What is typed is a unit already: a list would only be in the way.
  if (q !== '' && new DOMParser().parseFromString(found, 'text/html').querySelector('.hit')?.dataset.text === q) return close();
  if (field !== at || !list) {
    close();
    field = at;
    list = document.createElement('div');
    list.className = 'found units';
    list.id = 'unit-list';
    list.setAttribute('role', 'listbox');
    list.setAttribute('aria-label', 'Units');
    list.addEventListener('mousedown', event => event.preventDefault());
    list.addEventListener('click', event => take(event.target.closest('.hit')));
    // Near the right edge the list hangs from the field's other end.
    if (at.getBoundingClientRect().left + 390 > innerWidth) list.classList.add('end');
    at.parentElement.append(list);
    at.setAttribute('aria-controls', 'unit-list');
    at.setAttribute('aria-expanded', 'true');
  }
  list.innerHTML = found;
}

function take(hit) {
  if (!hit) return;
  field.value = hit.dataset.text;
  field.dataset.typed = '';
  field.dispatchEvent(new Event('input', { bubbles: true }));
  close();
}

function choose(hit) {
  for (const other of list.querySelectorAll('.hit')) other.setAttribute('aria-selected', other === hit ? 'true' : 'false');
  field.setAttribute('aria-activedescendant', hit?.id ?? '');
  hit?.scrollIntoView({ block: 'nearest' });
}

addEventListener('input', event => {
  if (!event.isTrusted || !event.target.matches('[data-units]')) return;
  event.target.dataset.typed = 'yes';
  open(event.target);
});
addEventListener('focusout', event => {
  if (event.target === field) close();
});
addEventListener('keydown', event => {
  if (!event.target.matches?.('[data-units]')) return;
  if (!list) {
    if (event.key !== 'ArrowDown') return;
    event.preventDefault();
    open(event.target);
    return;
  }
  const hits = [...list.querySelectorAll('.hit')];
  const at = hits.findIndex(h => h.getAttribute('aria-selected') === 'true');
  if (event.key === 'ArrowDown') choose(hits[Math.min(at + 1, hits.length - 1)]);
  else if (event.key === 'ArrowUp') choose(hits[Math.max(at - 1, 0)]);
  else if (event.key === 'Enter' && at >= 0) take(hits[at]);
  else if (event.key === 'Escape') close();
  else return;
  event.preventDefault();
});
