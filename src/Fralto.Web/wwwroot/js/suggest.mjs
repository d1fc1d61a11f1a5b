// Fields that propose as one types: what is typed is searched for where the field says, and what is chosen may fill other fields of the
// form. With nothing typed what was used last, or most, comes first.
let list;
let field;
let asked = 0;
// The list is of what was typed before until the answer comes: keys that choose from it wait as long.
let isOld = false;
let waiting = [];

function close() {
  isOld = false;
  waiting = [];
  list?.remove();
  list = undefined;
  field?.setAttribute('aria-expanded', 'false');
  field?.removeAttribute('aria-activedescendant');
}

async function open(at) {
  const mine = ++asked;
  isOld = list !== undefined;
  waiting = [];
  // What is there already is no search: show what comes first without one.
  const q = at.dataset.typed === 'yes' ? at.value.trim() : '';
  // A list that cannot be brought up to date keeps no keys waiting.
  const answer = await fetch(`${at.dataset.suggest}${encodeURIComponent(q)}`).catch(() => undefined);
  const found = (await answer?.text()) ?? '';
  if (mine !== asked || document.activeElement !== at) return;
  if (!answer?.ok) return close();
  // What is typed is one of them already: a list would only be in the way.
  if (q !== '' && new DOMParser().parseFromString(found, 'text/html').querySelector('.hit')?.dataset.text === q) return close();
  if (field !== at || !list) {
    close();
    field = at;
    list = document.createElement('div');
    list.className = 'found suggested';
    list.id = 'suggested';
    list.setAttribute('role', 'listbox');
    list.setAttribute('aria-label', at.dataset.suggestLabel);
    list.addEventListener('mousedown', event => event.preventDefault());
    list.addEventListener('click', event => take(event.target.closest('.hit')));
    // Near the right edge the list hangs from the field's other end.
    if (at.getBoundingClientRect().left + 390 > innerWidth) list.classList.add('end');
    at.parentElement.append(list);
    at.setAttribute('aria-controls', 'suggested');
    at.setAttribute('aria-expanded', 'true');
  }
  list.innerHTML = found;
  isOld = false;
  for (const key of waiting.splice(0)) if (list) press(key);
}

function take(hit) {
  if (!hit) return;
  field.value = hit.dataset.text;
  field.dataset.typed = '';
  field.dispatchEvent(new Event('input', { bubbles: true }));
  if (hit.dataset.fills) fill(field.form, JSON.parse(hit.dataset.fills));
  close();
}

// What a person has typed stays; what is empty, or was filled for another choice, is filled.
function fill(form, fills) {
  for (const [name, text] of Object.entries(fills)) {
    const at = form.elements[name];
    if (!at || (at.tagName !== 'SELECT' && at.value !== '' && at.value !== at.dataset.filled)) continue;
    at.value = text;
    at.dataset.filled = text;
    at.dispatchEvent(new Event('change', { bubbles: true }));
  }
  form.dataset.startDeadband = fills.deadband ?? '';
  form.dataset.startDelay = fills.delay ?? '';
}
// A limit that gets its setpoint begins with the deadband and the delays that are recommended for the quantity.
addEventListener('input', event => {
  const condition = /^(.*)Setpoint$/.exec(event.target.name ?? '')?.[1];
  const form = event.target.form;
  if (!condition || !form?.dataset.startDeadband || event.target.value === '') return;
  for (const [name, start] of [
    ['Deadband', form.dataset.startDeadband],
    ['OnDelay', form.dataset.startDelay],
    ['OffDelay', form.dataset.startDelay],
  ]) {
    const at = form.elements[`${condition}${name}`];
    if (at && at.value === '') at.value = start;
  }
});

function choose(hit) {
  for (const other of list.querySelectorAll('.hit')) other.setAttribute('aria-selected', other === hit ? 'true' : 'false');
  field.setAttribute('aria-activedescendant', hit?.id ?? '');
  hit?.scrollIntoView({ block: 'nearest' });
}

// Whether a key is one for the list.
function press(key) {
  const hits = [...list.querySelectorAll('.hit')];
  const at = hits.findIndex(h => h.getAttribute('aria-selected') === 'true');
  const takes = key === 'Enter' && (at >= 0 || waiting.length > 0);
  if (isOld && (takes || key === 'ArrowDown' || key === 'ArrowUp')) waiting.push(key);
  else if (key === 'ArrowDown') choose(hits[Math.min(at + 1, hits.length - 1)]);
  else if (key === 'ArrowUp') choose(hits[Math.max(at - 1, 0)]);
  else if (takes) take(hits[at]);
  else if (key === 'Escape') close();
  else return false;
  return true;
}

addEventListener('input', event => {
  if (!event.isTrusted || !event.target.matches('[data-suggest]')) return;
  event.target.dataset.typed = 'yes';
  open(event.target);
});
addEventListener('focusout', event => {
  if (event.target === field) close();
});
addEventListener('keydown', event => {
  if (!event.target.matches?.('[data-suggest]')) return;
  if (!list) {
    if (event.key !== 'ArrowDown') return;
    event.preventDefault();
    open(event.target);
    return;
  }
  if (press(event.key)) event.preventDefault();
});
