// What hands do beyond links and forms: asking before something goes, fields that fit the choice above them, arrow keys.
import { Choices } from './choices.mjs';

addEventListener('submit', event => {
  const question = event.target.dataset.confirm;
  if (question && !confirm(question)) event.preventDefault();
});

// What was still being worked out when the page was drawn is there now: it is put in place, unless a hand has ticked something.
document.body.addEventListener('htmx:afterSettle', async () => {
  const again = document.querySelector('a[data-again]');
  if (!again || document.querySelector('main input:checked, main tr[aria-selected="true"]')) return;
  again.removeAttribute('data-again');
  const answer = await fetch(again.href).catch(() => null);
  if (!answer?.ok || document.querySelector('main input:checked, main tr[aria-selected="true"]')) return;
  const page = new DOMParser().parseFromString(await answer.text(), 'text/html');
  for (const part of ['#main > .bar', '#main > main'])
    if (page.querySelector(part)) document.querySelector(part)?.replaceWith(page.querySelector(part));
  htmx.process(document.querySelector('#main'));
  document.body.dispatchEvent(new CustomEvent('listing:begin'));
});
// A post that was not carried out says why, beside what was pressed.
document.body.addEventListener('htmx:responseError', event => {
  const { xhr, elt } = event.detail;
  let why = `Fralto did not carry this out (${xhr.status}).`;
  try {
    const answer = xhr.getResponseHeader('content-type')?.includes('json')
      ? JSON.parse(xhr.responseText).detail
      : new DOMParser().parseFromString(xhr.responseText, 'text/html').querySelector('main p, [role=alert]')?.textContent;
    if (answer) why = answer.trim();
  } catch {
    // Then the number has to do.
  }
  fail(elt, why);
});
document.body.addEventListener('htmx:sendError', event => fail(event.detail.elt, 'Fralto does not answer; nothing was done.'));
function fail(elt, why) {
  // What is only asked for again and again says it once, in the line that says the connection is lost.
  if (elt.matches('[hx-trigger*=every]')) return;
  // A field holds no lines: what Find says stands in its list.
  const at = elt === find ? found : (elt.closest('form') ?? elt);
  let line = at.querySelector(':scope > [data-failed]');
  if (!line) {
    line = document.createElement('p');
    line.className = `problem small${at === found ? ' pad' : ''}`;
    line.setAttribute('role', 'alert');
    line.dataset.failed = '';
    at.append(line);
  }
  line.textContent = why;
}
document.body.addEventListener('htmx:beforeRequest', event => {
  for (const line of (event.detail.elt.closest('form') ?? event.detail.elt).querySelectorAll(':scope > [data-failed]')) line.remove();
});

// What was wrong with a field is said until somebody writes in it; whether it is right now, the next sending tells.
addEventListener('input', event => {
  const field = event.target.closest?.('.field.wrong');
  if (!field) return;
  field.classList.remove('wrong');
  event.target.removeAttribute('aria-invalid');
  field.querySelector('small.problem')?.remove();
});

function fit(form) {
  const choices = form.dataset.shows
    .split(' ')
    .map(name => form.elements[name]?.value ?? '')
    .filter(value => value !== '');
  const names = (part, list) => (part.dataset[list] ?? '').split(' ').some(name => choices.includes(name));
  for (const part of form.querySelectorAll('[data-for]')) part.hidden = !names(part, 'for') || names(part, 'not');
}
for (const form of document.querySelectorAll('form[data-shows]')) {
  fit(form);
  form.addEventListener('change', () => fit(form));
}

addEventListener('keydown', event => {
  if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z' || event.target.closest('input, textarea, select')) return;
  const button = document.querySelector(event.shiftKey ? '[data-redo]' : '[data-undo]');
  if (!button) return;
  event.preventDefault();
  button.click();
});

document.querySelector('[data-theme-switch]').addEventListener('click', () => {
  const dark = document.documentElement.dataset.bsTheme !== 'dark';
  document.documentElement.dataset.bsTheme = dark ? 'dark' : 'light';
  document.cookie = `fralto-theme=${dark ? 'dark' : 'light'}; path=/; max-age=31536000; samesite=strict`;
});

// Find: / goes there from anywhere, arrow keys choose, Enter goes, Escape leaves.
const find = document.querySelector('#find');
const found = document.querySelector('#found');
const hits = new Choices({ takes: hit => hit.click(), leaves: () => find.blur(), takesFirst: true });
[hits.field, hits.list] = [find, found];
// What was typed when the list was asked for that is there.
let foundFor;
const openFound = open => {
  found.hidden = !open;
  find.setAttribute('aria-expanded', `${open}`);
};
addEventListener('keydown', event => {
  if (event.key !== '/' || event.ctrlKey || event.metaKey || event.altKey || event.target.closest('input, textarea, select')) return;
  event.preventDefault();
  find.focus();
  find.select();
});
find.addEventListener('focus', () => openFound(true));
document.querySelector('[data-find]').addEventListener('focusout', event => {
  if (event.currentTarget.contains(event.relatedTarget)) return;
  openFound(false);
  hits.forget();
});
find.addEventListener('input', () => {
  if (find.value === foundFor) hits.renew();
  else hits.outdate();
});
found.addEventListener('htmx:afterSwap', event => {
  foundFor = event.detail.requestConfig.parameters.q;
  if (foundFor === find.value) hits.renew();
});
// Nothing is found where nobody answers: what was found before is not what is looked for now.
for (const failure of ['htmx:responseError', 'htmx:sendError'])
  find.addEventListener(failure, () => {
    foundFor = undefined;
    found.replaceChildren();
    hits.forget();
  });
found.addEventListener('mousedown', event => event.preventDefault());
find.addEventListener('keydown', event => {
  if (hits.press(event.key)) event.preventDefault();
});

// Level columns: up and down walk a column, left and right go to the neighbour, typing jumps to a name.
const columns = document.querySelector('[data-columns]');
let typed = '';
let typedAt = 0;
columns?.addEventListener('keydown', event => {
  const node = event.target.closest('.node');
  if (!node || event.ctrlKey || event.metaKey || event.altKey) return;
  const nodes = [...node.closest('.nodes').querySelectorAll('.node')];
  const all = [...columns.querySelectorAll('.nodes')];
  const column = all.indexOf(node.closest('.nodes'));
  const into = at => at && (at.querySelector('.on, .in') ?? at.querySelector('.node'));
  let to;
  if (event.key === 'ArrowDown') to = nodes[nodes.indexOf(node) + 1];
  else if (event.key === 'ArrowUp') to = nodes[nodes.indexOf(node) - 1];
  else if (event.key === 'ArrowLeft') to = into(all[column - 1]);
  else if (event.key === 'ArrowRight') to = node.matches('.on, .in') ? into(all[column + 1]) : node;
  else if (event.key === 'Home') to = nodes[0];
  else if (event.key === 'End') to = nodes.at(-1);
  else if (event.key.length === 1 && event.key !== ' ') {
    typed = event.timeStamp - typedAt < 800 ? typed + event.key.toLowerCase() : event.key.toLowerCase();
    typedAt = event.timeStamp;
    to = nodes.find(n => n.textContent.trim().toLowerCase().startsWith(typed));
  } else return;
  event.preventDefault();
  if (event.key === 'ArrowRight' && to === node) node.click();
  else to?.focus();
});
// Several nodes: Ctrl and click, or Space, takes one in or out; Shift and click takes all between; the sheet then edits them together.
const chosen = () => [...columns.querySelectorAll('.node.on, .node.also')].map(n => n.dataset.id);
function select(ids) {
  const first = columns.querySelector('.node.on')?.dataset.id;
  const rest = [...new Set(ids)].filter(id => id !== first);
  const at = ids.includes(first) || rest.length === 0 ? first : rest.shift();
  location.href = `/plant?at=${at}${rest.length ? `&with=${rest.join(',')}` : ''}`;
}
const turn = node => select(node.matches('.on, .also') ? chosen().filter(id => id !== node.dataset.id) : [...chosen(), node.dataset.id]);
columns?.addEventListener('click', event => {
  const node = event.target.closest('.node');
  if (!node || !(event.ctrlKey || event.metaKey || event.shiftKey)) return;
  event.preventDefault();
  if (!event.shiftKey) return turn(node);
  const nodes = [...node.closest('.nodes').querySelectorAll('.node')];
  const [from, to] = [nodes.findIndex(n => n.matches('.on')), nodes.indexOf(node)].sort((a, b) => a - b);
  select(from < 0 ? [node.dataset.id] : nodes.slice(from, to + 1).map(n => n.dataset.id));
});
columns?.addEventListener('keydown', event => {
  const node = event.target.closest('.node');
  if (!node || event.key !== ' ') return;
  event.preventDefault();
  turn(node);
});
// A node dropped on a sibling goes before it, on any other node below it; Alt with up or down moves it among its siblings.
function place(handler, fields) {
  // The page comes again with the node elsewhere; the hand stays on it.
  sessionStorage.setItem('fralto-held', fields.id);
  const form = document.querySelector('#place');
  form.action = `/plant?handler=${handler}`;
  for (const [name, value] of Object.entries(fields)) form.elements[name].value = value;
  form.submit();
}
let dragged;
columns?.addEventListener('dragstart', event => {
  dragged = event.target.closest('.node')?.dataset.id;
});
columns?.addEventListener('dragover', event => {
  const node = event.target.closest('.node');
  if (!dragged || !node || node.dataset.id === dragged) return;
  event.preventDefault();
  for (const other of columns.querySelectorAll('.drop')) other.classList.remove('drop');
  node.classList.add('drop');
});
columns?.addEventListener('drop', event => {
  const node = event.target.closest('.node');
  if (!dragged || !node || node.dataset.id === dragged) return;
  event.preventDefault();
  place('Drop', { id: dragged, onto: node.dataset.id });
});
columns?.addEventListener('dragend', () => {
  dragged = undefined;
  for (const other of columns.querySelectorAll('.drop')) other.classList.remove('drop');
});
columns?.addEventListener('keydown', event => {
  const node = event.target.closest('.node');
  if (!node || !event.altKey || !['ArrowUp', 'ArrowDown'].includes(event.key)) return;
  event.preventDefault();
  place('Nudge', { id: node.dataset.id, up: event.key === 'ArrowUp' });
});
columns?.querySelector('.node.on')?.scrollIntoView({ block: 'nearest' });
if (columns && sessionStorage.getItem('fralto-held')) {
  columns.querySelector(`.node[data-id="${CSS.escape(sessionStorage.getItem('fralto-held'))}"]`)?.focus();
  sessionStorage.removeItem('fralto-held');
}
document.querySelector('main tr.on')?.scrollIntoView({ block: 'center' });
document.querySelector('.field.wrong small.problem')?.scrollIntoView({ block: 'center' });
document.querySelector('.cell.here')?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
