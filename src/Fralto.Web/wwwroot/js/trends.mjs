// Curves: the server draws, this moves the window, reads along a cursor, and keeps the address.
const form = document.querySelector('[data-trends]');
const plot = document.querySelector('[data-plot]');
let cursor = null; // in picture units; null while there is none
let drawing = null;
let markedFrom = null;

const field = name => form.elements.namedItem(name);
const facts = () => {
  const svg = plot.querySelector('svg.trend');
  return svg && { svg, left: +svg.dataset.left, width: +svg.dataset.width, ...JSON.parse(svg.dataset.cursor) };
};

// What stands in the form and not in the address.
const unsaid = ['begin', 'add', '__RequestVerificationToken'];

function address(plotOnly) {
  const query = new URLSearchParams();
  for (const [name, value] of new FormData(form)) if (value !== '' && !unsaid.includes(name)) query.append(name, value);
  const length = form.querySelector('[name=for].on');
  if (!query.has('for')) query.set('for', form.dataset.for ?? length?.value ?? '3600');
  if (plotOnly) {
    query.set('plot', 'true');
    query.set('w', Math.max(200, Math.round((plot.querySelector('[data-drawn]') ?? plot).clientWidth - 116 - 66 - 16)));
  }
  return `${form.getAttribute('action')}?${query}`;
}

/** Draws anew; what was asked for last is what is shown. */
async function draw(keepsAddress = true) {
  drawing?.abort();
  const mine = (drawing = new AbortController());
  try {
    const answer = await fetch(address(true), { signal: mine.signal });
    if (!answer.ok) return;
    const html = await answer.text();
    if (mine.signal.aborted) return;
    const tops = [...plot.querySelectorAll('.scroll')].map(box => box.scrollTop);
    const at = document.activeElement;
    const focused = plot.contains(at) && at !== plot ? at.getAttribute('href') : null;
    plot.innerHTML = html;
    [...plot.querySelectorAll('.scroll')].forEach((box, i) => tops[i] && box.scrollTo(0, tops[i]));
    if (focused) plot.querySelector(`a[href="${CSS.escape(focused)}"]`)?.focus();
    read();
    if (keepsAddress) history.replaceState(history.state, '', address(false));
  } catch {
    // Given up for a newer one, or the server does not answer: the next one may.
  } finally {
    if (drawing === mine) drawing = null;
  }
}

const seconds = () => +(form.dataset.for ?? form.querySelector('[name=for].on')?.value ?? 3600);

function look(length, to) {
  const kept = Math.min(3653 * 86400, Math.max(1, length));
  form.dataset.for = `${Math.round(kept * 1000) / 1000}`;
  for (const button of form.querySelectorAll('button[name=for]')) {
    const isOn = Math.abs(+button.value - kept) < 1;
    button.classList.toggle('on', isOn);
    button.setAttribute('aria-pressed', `${isOn}`);
  }
  if (field('to')) field('to').value = to === null || to >= Date.now() ? '' : `${Math.round(to)}`;
  draw();
}

/** The window moved by so much of its length. */
function move(by) {
  const its = facts();
  if (its && !its.runs) look(seconds(), its.to + by * seconds() * 1000);
}

/** The window made longer or shorter round a place in it, 0 to 1. */
function zoom(factor, round) {
  const its = facts();
  if (!its) return;
  if (its.runs) return look(seconds() * factor, null);
  const length = Math.min(3653 * 86400, Math.max(1, seconds() * factor)) * 1000;
  const middle = its.from + round * (its.to - its.from);
  look(length / 1000, its.live && round > 0.98 ? null : middle + (1 - round) * length);
}

/** Reads all curves and states at the cursor. */
function read() {
  const its = facts();
  const box = plot.querySelector('[data-readout]');
  const hair = plot.querySelector('[data-hair]');
  if (!its || !box) return;
  box.hidden = cursor === null;
  hair.toggleAttribute('hidden', cursor === null);
  if (cursor === null) return;
  cursor = Math.min(its.width, Math.max(0, cursor));
  const height = its.svg.viewBox.baseVal.height;
  hair.setAttribute('d', `M${its.left + cursor} 8V${height - 22}`);
  const lines = [];
  const time = its.from + (cursor / its.width) * (its.to - its.from);
  const head = document.createElement('b');
  head.textContent = its.runs
    ? `${(((cursor / its.width) * seconds() - its.before) / 3600).toFixed(2)} h`
    : new Date(time).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'medium' });
  lines.push(head);
  for (const strip of its.strips) {
    const here = strip.at.find(([from, to]) => cursor >= from && cursor < to);
    lines.push(line(strip.name, strip.of, here ? here[2] : '–', ''));
  }
  for (const curve of its.curves) {
    const value = curve.at[Math.min(curve.at.length - 1, Math.floor((cursor / its.width) * Math.round(its.width)))];
    const isKnown = cursor <= curve.at.length && value !== null && value !== undefined;
    lines.push(line(`${curve.n} ${curve.name}`, curve.of, isKnown ? `${value}` : '–', curve.unit));
  }
  box.replaceChildren(...lines);
  const room = plot.clientWidth - box.offsetWidth - 8;
  const x = its.left + cursor + 12 - plot.scrollLeft;
  box.style.left = `${x > room ? Math.max(0, its.left + cursor - box.offsetWidth - 12) : x}px`;
}

function line(name, of, value, unit) {
  const row = document.createElement('div');
  const [left, right] = [document.createElement('span'), document.createElement('span')];
  left.textContent = name.replace(/^\d+ /, '') === of ? name : `${name} · ${of}`;
  right.textContent = `${value} ${unit}`.trim();
  right.className = 'num';
  row.append(left, right);
  return row;
}

function mark(from, to) {
  const its = facts();
  const time = x => Math.round(its.from + (x / its.width) * (its.to - its.from));
  field('mf').value = from === null ? '' : `${time(Math.min(from, to))}`;
  field('mt').value = from === null ? '' : `${time(Math.max(from, to))}`;
  draw();
}

function place(event) {
  const its = facts();
  if (!its) return null;
  const box = its.svg.getBoundingClientRect();
  return ((event.clientX - box.left) * its.svg.viewBox.baseVal.width) / box.width - its.left;
}

if (form && plot) {
  form.dataset.for = new URLSearchParams(location.search).get('for') ?? '3600';
  form.addEventListener('change', event => {
    if (event.target.matches('[data-whole]')) {
      for (const box of form.querySelectorAll('[name=p], [name=e], [name=s]')) box.disabled = true;
      location.assign(`/trends?template=${encodeURIComponent(event.target.value)}&for=${seconds()}`);
    } else if (event.target.matches('[data-runs]')) {
      const [property, state] = event.target.value.split(':');
      field('runs').value = property ?? '';
      field('becomes').value = state ?? '';
      field('before').value = property ? `${Math.round(seconds() * 0.05)}` : '';
      field('n').value = property ? '2' : '';
      field('to').value = '';
      mark(null);
    } else if (event.target.matches('[data-go]'))
      location.assign(`${form.getAttribute('action')}?template=${encodeURIComponent(event.target.value)}&for=${seconds()}`);
    else if (event.target.matches('[data-now]')) draw();
  });
  const keep = document.getElementById('keep');
  keep?.addEventListener('submit', event => {
    keep.elements.namedItem('query').value = address(false).split('?')[1];
    if (!event.submitter?.dataset.kept) return;
    document.getElementById('keepname').value = event.submitter.dataset.kept;
    const place = document.getElementById('keepwith');
    if (place) place.value = event.submitter.dataset.with ?? '';
  });
  const add = form.querySelector('[data-add]');
  add?.addEventListener('input', async () => {
    const answer = await fetch(`/trends?handler=Paths&q=${encodeURIComponent(add.value)}`).catch(() => null);
    if (!answer?.ok) return;
    const paths = await answer.json();
    const options = paths.map(path => Object.assign(document.createElement('option'), { value: path }));
    document.getElementById('paths').replaceChildren(...options);
    if (paths.length === 1 && paths[0] === add.value) location.assign(`${address(false)}&add=${encodeURIComponent(add.value)}`);
  });
  form.addEventListener('submit', event => {
    event.preventDefault();
    if (add?.value && !event.submitter?.value) return location.assign(`${address(false)}&add=${encodeURIComponent(add.value)}`);
    if (event.submitter?.name === 'for') look(+event.submitter.value, field('to')?.value ? +field('to').value : null);
    else draw();
  });
  plot.addEventListener('wheel', event => {
    const x = place(event);
    const its = facts();
    if (!its || x === null || x < 0 || !event.target.closest('svg.trend')) return;
    event.preventDefault();
    zoom(event.deltaY > 0 ? 1.25 : 0.8, Math.min(1, x / its.width));
  }, { passive: false });
  let drag = null;
  /** Puts the middle of the window where the strip of days is pressed or dragged to; at its end it is live again. */
  const week = event => {
    const strip = event.target.closest?.('[data-week]');
    if (!strip) return false;
    const { left, width, from, length } = strip.dataset;
    const box = strip.getBoundingClientRect();
    const at = Math.min(1, Math.max(0, (event.clientX - box.left - left) / width));
    const to = +from + at * length + (seconds() * 1000) / 2;
    look(seconds(), at > 0.995 ? null : to);
    return true;
  };
  plot.addEventListener('pointerdown', event => {
    if (event.button === 0 && week(event)) return;
    const x = place(event);
    if (event.button !== 0 || x === null || !event.target.closest('svg.trend')) return;
    drag = { x, isMark: event.shiftKey, moved: false };
    plot.setPointerCapture(event.pointerId);
  });
  plot.addEventListener('pointermove', event => {
    if (event.buttons === 1 && !drag && week(event)) return;
    const x = place(event);
    if (x === null) return;
    if (!drag) {
      if (event.target.closest('svg.trend')) {
        cursor = x;
        read();
      }
      return;
    }
    if (Math.abs(x - drag.x) > 3) drag.moved = true;
    cursor = x;
    read();
  });
  plot.addEventListener('pointerup', event => {
    const x = place(event);
    const its = facts();
    if (drag?.moved && its && x !== null) {
      if (drag.isMark && field('mf')) mark(Math.max(0, drag.x), Math.min(its.width, x));
      else move((drag.x - x) / its.width);
    }
    drag = null;
  });
  plot.addEventListener('pointerleave', () => {
    if (!drag) {
      cursor = null;
      read();
    }
  });
  plot.addEventListener('keydown', event => {
    const its = facts();
    if (!its || event.ctrlKey || event.metaKey || event.altKey) return;
    const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (step) {
      if (event.shiftKey) markedFrom ??= cursor ?? its.width / 2;
      else markedFrom = null;
      cursor = Math.min(its.width, Math.max(0, (cursor ?? its.width / 2) + step * Math.max(1, its.width / 100)));
      read();
    } else if (event.key === '+' || event.key === '=') zoom(0.5, cursor === null ? 1 : cursor / its.width);
    else if (event.key === '-') zoom(2, cursor === null ? 1 : cursor / its.width);
    else if (event.key === 'PageUp') move(-0.5);
    else if (event.key === 'PageDown') move(0.5);
    else if (event.key === 'End') look(seconds(), null);
    else if (event.key === 'Escape') {
      cursor = null;
      if (field('mf')?.value) mark(null);
      read();
    } else return;
    event.preventDefault();
  });
  plot.addEventListener('keyup', event => {
    if (event.key === 'Shift' && field('mf') && markedFrom !== null && cursor !== null) {
      mark(markedFrom, cursor);
      markedFrom = null;
    }
  });
  // [ and ] go to the neighbour.
  if ('neighbours' in form.dataset)
    addEventListener('keydown', event => {
      if (event.target.closest('input, textarea, select') || event.ctrlKey || event.metaKey || event.altKey) return;
      const step = form.querySelector(`[data-step='${CSS.escape(event.key)}']`);
      if (step) location.assign(`/machine?at=${new URL(step.href).searchParams.get('at')}&for=${seconds()}&to=${field('to').value}`);
    });
  addEventListener('resize', () => draw(false));
  draw(false);
  // Live at the right end: as often as the picture can show it.
  let drawn = Date.now();
  setInterval(() => {
    const its = facts();
    const isPlain = 'plain' in plot.dataset;
    if (document.hidden || (!isPlain && !its?.live) || drawing || drag || plot.matches(':has(a:hover)')) return;
    const due = isPlain ? 5000 : Math.min(60, Math.max(1, seconds() / Math.max(200, its.width))) * 1000;
    if (Date.now() - drawn >= due) {
      drawn = Date.now();
      draw(false);
    }
  }, 500);
}

// T shows the history of the value one is at, on any page; of all that are selected in a list.
addEventListener('keydown', event => {
  if (event.key !== 't' || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.target.closest('input, textarea, select, [contenteditable]')) return;
  const row = document.activeElement?.closest('tr, .cell, td') ?? document.querySelector('tr:hover');
  const rows = row?.matches('[aria-selected=true]') ? [...row.parentElement.querySelectorAll('[aria-selected=true]')] : [row];
  const keys = rows.map(its => (its?.querySelector('[data-value]') ?? its?.closest('tr')?.querySelector('[data-value]'))?.dataset.value);
  // A tag stands there as one of instance 0: its raw values are seen live, bound or not.
  const lines = keys.map(key => key?.replace(/^tag\./, '0.')).filter(key => /^\d+\.\d+$/.test(key ?? ''));
  if (lines.length) location.assign(`/trends?${lines.slice(0, 40).map(key => `s=${key}`).join('&')}`);
});
