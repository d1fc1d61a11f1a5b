// Follows what the page looks at: one stream, and each payload sets the elements that carry its keys.
const scope = document.body.dataset.live;
const lost = document.querySelector('[data-lost]');
const marks = {
  1: '<polygon points="5.5,1 12.5,1 17,5.5 17,12.5 12.5,17 5.5,17 1,12.5 1,5.5"/>',
  2: '<polygon points="9,1 17.5,16.5 0.5,16.5"/>',
  3: '<rect x="2" y="2" width="14" height="14" rx="1.5"/>',
  4: '<circle cx="9" cy="9" r="7.5"/>',
};

function mark(priority) {
  const mark = marks[priority] + `<text x="9" y="${priority === '2' ? 14.6 : 13}">${priority}</text>`;
  return `<svg class="pri pri${priority}" viewBox="0 0 18 18" role="img" aria-label="priority ${priority}">${mark}</svg>`;
}

// How an element that carries a key in `data-NAME` shows what is told of that key.
const shown = {
  value(at, entry) {
    tell(at, entry.text);
    if (!at.classList.contains(entry.quality)) {
      at.classList.remove('good', 'uncertain', 'bad');
      at.classList.add(entry.quality);
    }
    explain(at, entry);
  },
  why(at, entry) {
    tell(at, entry.why);
    explain(at, entry);
  },
  reason(at, entry) {
    tell(at, entry.reason);
    explain(at, entry);
  },
  age: tellAge,
  mark(at, entry) {
    if (at.dataset.shows === (entry.alarm ?? '')) return;
    at.dataset.shows = entry.alarm ?? '';
    at.innerHTML = entry.alarm ? mark(entry.alarm) : '';
  },
  dot(at, entry) {
    at.classList.toggle('bad', entry.quality === 'bad');
    at.setAttribute('visibility', entry.at === undefined ? 'hidden' : 'visible');
    if (entry.at !== undefined) at.setAttribute('cx', Number(at.dataset.from) + entry.at * (at.dataset.to - at.dataset.from));
  },
};
const carriers = Object.keys(shown)
  .map(name => `[data-${name}]`)
  .join();

// Only what differs is touched: a page of many values is not laid out anew for one. A text that is put into the node there is moves
// no element, which would make the page look for its carriers again.
function tell(at, text) {
  if (at.textContent === text) return;
  if (at.childNodes.length === 1 && at.firstChild.nodeType === Node.TEXT_NODE) at.firstChild.nodeValue = text;
  else at.textContent = text;
}
function explain(at, entry) {
  if (at.title !== entry.why) at.title = entry.why;
}

// Which elements carry a key: looked for once, and again when elements have come or gone.
let carrying = null;
function* of(root) {
  for (const at of root.querySelectorAll(carriers))
    for (const name in shown) if (name in at.dataset) yield { key: at.dataset[name], at, show: shown[name] };
}
function show(key, entry) {
  carrying ??= Map.groupBy(of(document), one => one.key);
  for (const one of carrying.get(key) ?? []) one.show(one.at, entry);
}
const isElement = node => node.nodeType === Node.ELEMENT_NODE;
new MutationObserver(changes => {
  if (changes.some(c => c.type === 'attributes' || [...c.addedNodes, ...c.removedNodes].some(isElement))) carrying = null;
}).observe(document.body, {
  childList: true,
  subtree: true,
  attributes: true,
  attributeFilter: Object.keys(shown).map(name => `data-${name}`),
});

// An age is told once, when it begins to be one, and goes on here; what is read again and again stays "now".
function tellAge(at, entry) {
  if (entry.age === undefined && entry.since === undefined) return;
  if (entry.since === undefined) delete at.dataset.since;
  else at.dataset.since = entry.since;
  tell(at, entry.age ?? ageWords(entry.since));
}
function ageWords(since) {
  const s = Math.floor((Date.now() - since) / 1000);
  return s < 5
    ? 'now'
    : s < 60
      ? `${Math.floor(s / 5) * 5} s`
      : s < 3600
        ? `${Math.floor(s / 60)} min`
        : s < 48 * 3600
          ? `${Math.floor(s / 3600)} h`
          : `${Math.floor(s / 86400)} d`;
}
const ages = setInterval(() => {
  for (const at of document.querySelectorAll('[data-since]')) {
    tell(at, ageWords(Number(at.dataset.since)));
  }
}, 1000);

const newest = new Map();
const stream = new EventSource(`/live/events?scope=${encodeURIComponent(scope)}`);
// The version of the alarms the page was drawn with; a newer one makes it fetch its lists again.
let alarms = document.querySelector('[data-alarms]')?.dataset.alarms;
stream.onopen = () => {
  lost.hidden = true;
};
stream.onerror = () => {
  lost.hidden = false;
};
stream.onmessage = event => {
  const payload = JSON.parse(event.data);
  for (const [key, entry] of Object.entries(payload.values ?? {})) {
    if (entry.ago !== undefined) entry.since = Date.now() - entry.ago * 1000;
    newest.set(key, entry);
    show(key, entry);
  }
  for (const [step, figure] of Object.entries(payload.figures ?? {})) {
    const at = document.querySelector(`[data-figure="${step}"]`);
    if (at) at.textContent = figure;
  }
  if (payload.alarms !== undefined && `${payload.alarms}` !== alarms) {
    if (alarms !== undefined) document.body.dispatchEvent(new CustomEvent('alarms'));
    alarms = `${payload.alarms}`;
  }
};
// A fragment that has just been swapped in was drawn a moment ago; bring it up to date.
document.body.addEventListener('htmx:afterSettle', event => {
  for (const { key, at, show } of of(event.target)) {
    const entry = newest.get(key);
    if (entry) show(at, entry);
  }
});
addEventListener('pagehide', () => {
  stream.close();
  clearInterval(ages);
});
