// Fields that propose as one types: what is typed is searched for where the field says, and what is chosen may fill other fields of the
// form. With nothing typed what was used last, or most, comes first.
import { Completion } from './choices.mjs';

const completion = new Completion('suggested', (hit, field) => {
  field.value = hit.dataset.text;
  field.dataset.typed = '';
  field.dispatchEvent(new Event('input', { bubbles: true }));
  if (hit.dataset.fills) fill(field.form, JSON.parse(hit.dataset.fills));
});

function open(at) {
  // What is there already is no search: show what comes first without one.
  const q = at.dataset.typed === 'yes' ? at.value.trim() : '';
  // What is typed is one of them already: a list would only be in the way.
  const isThere = found => q !== '' && new DOMParser().parseFromString(found, 'text/html').querySelector('.hit')?.dataset.text === q;
  return completion.open(at, at.dataset.suggest + encodeURIComponent(q), at.dataset.suggestLabel, isThere);
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

addEventListener('input', event => {
  if (!event.isTrusted || !event.target.matches('[data-suggest]')) return;
  event.target.dataset.typed = 'yes';
  open(event.target);
});
addEventListener('keydown', event => {
  if (!event.target.matches?.('[data-suggest]')) return;
  if (completion.press(event.key)) event.preventDefault();
  else if (!completion.list && event.key === 'ArrowDown') {
    event.preventDefault();
    open(event.target);
  }
});
