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

function show(key, entry) {
  for (const at of document.querySelectorAll(`[data-value="${key}"]`)) {
    if (at.textContent !== entry.text) at.textContent = entry.text;
    at.classList.remove('good', 'uncertain', 'bad');
    at.classList.add(entry.quality);
    at.title = entry.why;
  }
  for (const at of document.querySelectorAll(`[data-why="${key}"]`)) {
    at.textContent = entry.why;
    at.title = entry.why;
  }
  for (const at of document.querySelectorAll(`[data-reason="${key}"]`)) {
    at.textContent = entry.reason;
    at.title = entry.why;
  }
  for (const at of document.querySelectorAll(`[data-age="${key}"]`)) tellAge(at, entry);
  for (const at of document.querySelectorAll(`[data-mark="${key}"]`)) {
    if (at.dataset.shows === (entry.alarm ?? '')) continue;
    at.dataset.shows = entry.alarm ?? '';
    at.innerHTML = entry.alarm ? mark(entry.alarm) : '';
  }
  for (const at of document.querySelectorAll(`[data-dot="${key}"]`)) {
    at.classList.toggle('bad', entry.quality === 'bad');
    at.setAttribute('visibility', entry.at === undefined ? 'hidden' : 'visible');
    if (entry.at !== undefined) at.setAttribute('cx', Number(at.dataset.from) + entry.at * (at.dataset.to - at.dataset.from));
  }
}

// An age is told once, when it begins to be one, and goes on here; what is read again and again stays "now".
function tellAge(at, entry) {
  if (entry.age === undefined && entry.since === undefined) return;
  if (entry.since === undefined) delete at.dataset.since;
  else at.dataset.since = entry.since;
  at.textContent = entry.age ?? ageWords(entry.since);
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
    const words = ageWords(Number(at.dataset.since));
    if (at.textContent !== words) at.textContent = words;
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
  for (const at of event.target.querySelectorAll('[data-value]')) {
    const entry = newest.get(at.dataset.value);
    if (entry) show(at.dataset.value, entry);
  }
});
addEventListener('pagehide', () => {
  stream.close();
  clearInterval(ages);
});
