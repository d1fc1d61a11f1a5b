// The field of a formula: words are completed at the cursor, by keyboard; a piece that does not fit is replaced by what does.
let list;
let field;
let asked = 0;
// The list is of what was typed before until the answer comes: keys that choose from it wait as long.
let isOld = false;
let waiting = [];

const wordAt = at => /[\p{L}_][\p{L}\p{N}_.-]*$/u.exec(at.value.slice(0, at.selectionStart))?.[0] ?? '';

function close() {
  isOld = false;
  waiting = [];
  list?.remove();
  list = undefined;
  field?.setAttribute('aria-expanded', 'false');
  field?.removeAttribute('aria-activedescendant');
}

async function open(at, all) {
  const mine = ++asked;
  isOld = list !== undefined;
  waiting = [];
  const word = wordAt(at);
  // What follows a number is its unit, and not the beginning of a name.
  if (/\d\s*$/.test(at.value.slice(0, at.selectionStart - word.length))) return close();
  if (word === '' && !all) return close();
  // A list that cannot be brought up to date keeps no keys waiting.
  const answer = await fetch(`${at.dataset.formula}${encodeURIComponent(word)}`).catch(() => undefined);
  const found = (await answer?.text()) ?? '';
  if (mine !== asked || document.activeElement !== at) return;
  if (!answer?.ok) return close();
  if (found.trim() === '') return close();
  if (!list) {
    field = at;
    list = document.createElement('div');
    list.className = 'found suggested';
    list.id = 'formula-suggested';
    list.setAttribute('role', 'listbox');
    list.setAttribute('aria-label', 'Words of formulas');
    list.addEventListener('mousedown', event => event.preventDefault());
    list.addEventListener('click', event => take(event.target.closest('.hit')));
    at.parentElement.append(list);
    at.setAttribute('aria-controls', list.id);
    at.setAttribute('aria-expanded', 'true');
  }
  list.innerHTML = found;
  isOld = false;
  for (const key of waiting.splice(0)) if (list) press(key);
}

function put(at, from, to, text) {
  at.setRangeText(text, from, to, 'end');
  at.dispatchEvent(new Event('input', { bubbles: true }));
}

function take(hit) {
  if (!hit) return;
  const end = field.selectionStart;
  put(field, end - wordAt(field).length, end, hit.dataset.text);
  close();
}

function choose(hit) {
  for (const other of list.querySelectorAll('.hit')) other.setAttribute('aria-selected', other === hit ? 'true' : 'false');
  field.setAttribute('aria-activedescendant', hit?.id ?? '');
  hit?.scrollIntoView({ block: 'nearest' });
}

// Whether a key is one for the list.
function press(key) {
  const hits = [...list.querySelectorAll('.hit')];
  const at = hits.findIndex(h => h.getAttribute('aria-selected') === 'true');
  const takes = (key === 'Enter' || key === 'Tab') && (at >= 0 || waiting.length > 0);
  if (isOld && (takes || key === 'ArrowDown' || key === 'ArrowUp')) waiting.push(key);
  else if (key === 'ArrowDown') choose(hits[Math.min(at + 1, hits.length - 1)]);
  else if (key === 'ArrowUp') choose(hits[Math.max(at - 1, 0)]);
  else if (takes) take(hits[at]);
  else if (key === 'Escape') close();
  else return false;
  return true;
}

addEventListener('input', event => {
  if (event.isTrusted && event.target.matches('[data-formula]')) open(event.target, false);
});
addEventListener('focusout', event => {
  if (event.target === field) close();
});
addEventListener('keydown', event => {
  if (!event.target.matches?.('[data-formula]')) return;
  if (event.ctrlKey && event.key === ' ') {
    event.preventDefault();
    open(event.target, true);
    return;
  }
  if (list && press(event.key)) event.preventDefault();
});
addEventListener('click', event => {
  const fix = event.target.closest('[data-instead]');
  const at = fix?.closest('form')?.querySelector('[data-formula]');
  if (!at) return;
  const from = +fix.dataset.from;
  const to = from + fix.dataset.wrong.length;
  // What is said may be of what was written before; then the places are not what they were, and what is said anew tells.
  const goesOn = end => /[\p{L}\p{N}_]{2}/u.test(at.value.slice(Math.max(end - 1, 0), end + 1));
  if (at.value.slice(from, to) === fix.dataset.wrong && !goesOn(from) && !goesOn(to)) {
    for (const other of fix.form.querySelectorAll('[data-instead]')) other.disabled = true;
    put(at, from, to, fix.dataset.instead);
  }
  at.focus();
});
