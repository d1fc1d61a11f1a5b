// Forms that do not forget: leaving one with typed changes asks, and a form that is drawn anew for another choice keeps what fits.

const worked = 'form[method=post]:not(.acton):not([data-confirm]):not([data-picks])';
// Nobody types into a button, and what it would send is no change.
const fieldsOf = form =>
  [...form.elements].filter(f => f.name && f.tagName !== 'BUTTON' && f.type !== 'hidden' && f.type !== 'file' && f.offsetParent !== null);

function isTyped(field) {
  if (field.type === 'checkbox' || field.type === 'radio') return field.checked !== field.defaultChecked;
  if (field.tagName !== 'SELECT') return field.value !== field.defaultValue;
  const begins = [...field.options].findIndex(o => o.defaultSelected);
  return field.selectedIndex !== Math.max(begins, 0);
}
// A form that comes back refused holds what was typed, and nobody has it but this page.
const holds = form => form.querySelector('.field.wrong, [aria-invalid]') !== null || fieldsOf(form).some(isTyped);

// Sent, or given up by Cancel: for as long as it takes to leave; what stays all the same, after a download or an answer without content,
// asks again.
let goes = false;
function go() {
  goes = true;
  setTimeout(() => (goes = false), 2000);
}
addEventListener('submit', event => {
  if (!event.defaultPrevented) go();
});
addEventListener('click', event => {
  if (!event.defaultPrevented && event.target.closest?.('a[href]')?.matches('.quiet, [data-carry]')) go();
});
addEventListener('beforeunload', event => {
  if (!goes && [...document.querySelectorAll(worked)].some(holds)) event.preventDefault();
});

// Another choice draws the form anew: what was typed goes along, but for passwords.
const carried = 'fralto-carried';
addEventListener('click', event => {
  const link = event.target.closest?.('a[data-carry]');
  const form = link?.closest('form');
  if (!form) return;
  const typed = fieldsOf(form)
    .filter(f => f.type !== 'password' && isTyped(f))
    .map(f => [f.name, f.type === 'checkbox' ? f.checked : f.value]);
  sessionStorage.setItem(carried, JSON.stringify({ to: link.dataset.carry, typed }));
});
const left = JSON.parse(sessionStorage.getItem(carried) ?? 'null');
sessionStorage.removeItem(carried);
const into = left && document.querySelector(`form[data-carries="${CSS.escape(left.to)}"]`);
for (const [name, value] of into ? left.typed : []) {
  const field = into.elements[name];
  if (!field || field.type === 'hidden') continue;
  if (field.type === 'checkbox') field.checked = value;
  else if (field.tagName !== 'SELECT' || [...field.options].some(o => o.value === value)) field.value = value;
}

// Cells of a spreadsheet pasted into a table of fields fill it from there on, to the right and down; Enter and the arrows go up and down.
for (const table of document.querySelectorAll('[data-pastes]')) {
  const rows = () => [...table.tBodies[0].rows].map(row => [...row.querySelectorAll('input')]);
  const placeOf = input => {
    const all = rows();
    const row = all.findIndex(r => r.includes(input));
    return [all, row, all[row].indexOf(input)];
  };
  table.addEventListener('paste', event => {
    const text = event.clipboardData.getData('text/plain').replace(/\r/g, '').replace(/\n$/, '');
    if (!event.target.matches('input') || !/[\t\n]/.test(text)) return;
    event.preventDefault();
    const [all, row, column] = placeOf(event.target);
    text.split('\n').forEach((line, down) =>
      line.split('\t').forEach((cell, right) => {
        const field = all[row + down]?.[column + right];
        if (field) field.value = cell.trim();
      }),
    );
    event.target.dispatchEvent(new Event('input', { bubbles: true }));
  });
  table.addEventListener('keydown', event => {
    const step = { ArrowDown: 1, ArrowUp: -1, Enter: event.shiftKey ? -1 : 1 }[event.key];
    if (!step || !event.target.matches('input') || event.ctrlKey || event.metaKey) return;
    const [all, row, column] = placeOf(event.target);
    event.preventDefault();
    all[row + step]?.[column]?.focus();
  });
}
