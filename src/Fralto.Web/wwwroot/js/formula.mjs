// The field of a formula: words are completed at the cursor, by keyboard; a piece that does not fit is replaced by what does.
import { Completion } from './choices.mjs';

const wordAt = at => /[\p{L}_][\p{L}\p{N}_.-]*$/u.exec(at.value.slice(0, at.selectionStart))?.[0] ?? '';

function put(at, from, to, text) {
  at.setRangeText(text, from, to, 'end');
  at.dispatchEvent(new Event('input', { bubbles: true }));
}

const completion = new Completion(
  'formula-suggested',
  (hit, field) => {
    const end = field.selectionStart;
    put(field, end - wordAt(field).length, end, hit.dataset.text);
  },
  ['Enter', 'Tab'],
);

function open(at, all) {
  const word = wordAt(at);
  // What follows a number is its unit, and not the beginning of a name.
  if (/\d\s*$/.test(at.value.slice(0, at.selectionStart - word.length)) || (word === '' && !all)) completion.close();
  else completion.open(at, at.dataset.formula + encodeURIComponent(word), 'Words of formulas', found => found.trim() === '');
}

addEventListener('input', event => {
  if (event.isTrusted && event.target.matches('[data-formula]')) open(event.target, false);
});
addEventListener('keydown', event => {
  if (!event.target.matches?.('[data-formula]')) return;
  if (event.ctrlKey && event.key === ' ') {
    event.preventDefault();
    open(event.target, true);
  } else if (completion.press(event.key)) event.preventDefault();
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
