// Lists: filtered while one types, sorted by their headings, scrolled through however long they are, selected and copied.
const chunk = 150;

document.querySelectorAll('[data-listing]').forEach(begin);
document.body.addEventListener('htmx:afterSettle', event => {
  event.target.querySelectorAll?.('[data-listing]').forEach(begin);
});

document.body.addEventListener('listing:begin', () => document.querySelectorAll('[data-listing]').forEach(begin));

function begin(listing) {
  if (listing.dataset.begun) return;
  listing.dataset.begun = 'true';
  const state = { ranges: [], anchor: 0, at: 0, asked: 0 };
  const form = () => listing.querySelector('[data-listing-form]');
  const body = () => listing.querySelector('[data-rows]');
  const scroller = () => listing.querySelector('[data-listing-scroll]');
  const count = () => Number(body()?.dataset.count ?? 0);
  const rowOf = place => body()?.querySelector(`tr[data-place="${place}"]`);
  const height = () => rowOf(Number(body().dataset.from))?.offsetHeight || 30;

  function address(more = {}) {
    const said = new URLSearchParams();
    for (const [key, value] of new FormData(form())) if (value !== '') said.set(key, value);
    for (const [key, value] of Object.entries(more))
      if (value === null) said.delete(key);
      else said.set(key, value);
    return `${listing.dataset.page.split('?')[0]}?${said}`;
  }

  async function fetched(url) {
    const turn = ++state.asked;
    const answer = await fetch(url).catch(() => null);
    // Without an answer the list stays as it is; that the connection is lost is said above.
    const text = await answer?.text();
    if (!answer || turn !== state.asked) return null;
    // Rows by themselves are no page; a parser takes them only inside a table.
    const whole = text.trimStart().startsWith('<tbody') ? `<table>${text}</table>` : text;
    return answer.ok ? new DOMParser().parseFromString(whole, 'text/html') : null;
  }

  // Other rows: the list is drawn anew, and what was typed stays where it is typed.
  async function again(more = {}) {
    const url = address(more);
    const page = await fetched(url);
    const fresh = page?.getElementById(listing.id);
    if (!fresh) return;
    history.replaceState(history.state, '', url);
    document.querySelectorAll('input[data-here]').forEach(at => (at.value = url));
    const typed = document.activeElement?.closest('[data-listing-form] input[type="search"]');
    const sorted = document.activeElement?.closest('.sort')?.closest('th')?.cellIndex;
    if (typed) {
      // The field itself stays, with its caret: only what is around it is put in.
      const place = fresh.querySelector('[data-listing-form] input[type="search"]');
      place.replaceWith(typed);
    }
    listing.replaceChildren(...fresh.childNodes);
    listing.dataset.count = fresh.dataset.count;
    if (typed) typed.focus();
    if (sorted !== undefined) listing.querySelectorAll('thead th')[sorted]?.querySelector('.sort')?.focus();
    Object.assign(state, { ranges: [], anchor: 0, at: 0 });
    wire();
    settle();
  }

  function settle() {
    gaps();
    mark();
    globalThis.htmx?.process(listing);
    document.body.dispatchEvent(new CustomEvent('htmx:afterSettle', { bubbles: true }));
    listing.dispatchEvent(new CustomEvent('listing:shown'));
  }

  // What is not drawn has its height all the same, so that the bar tells where one is.
  function gaps() {
    const rows = body();
    if (!rows) return;
    const drawn = rows.querySelectorAll('tr[data-place]');
    const from = Number(rows.dataset.from);
    const one = height();
    const set = (name, value) => {
      let gap = rows.querySelector(`tr[data-gap="${name}"]`);
      if (!gap) {
        gap = document.createElement('tr');
        gap.dataset.gap = name;
        gap.setAttribute('aria-hidden', 'true');
        gap.append(document.createElement('td'));
        gap.firstChild.colSpan = 99;
        if (name === 'above') rows.prepend(gap);
        else rows.append(gap);
      }
      gap.firstChild.style.height = `${value}px`;
      gap.hidden = value === 0;
    };
    set('above', from * one);
    set('below', (count() - from - drawn.length) * one);
  }

  async function draw(place) {
    const from = Math.max(0, Math.min(place - Math.floor(chunk / 2), count() - chunk));
    const before = body().dataset.token;
    const page = await fetched(address({ handler: 'Rows', from, rows: chunk * 2, list: before }));
    const rows = page?.querySelector('[data-rows]');
    if (!rows) return;
    const kept = document.activeElement?.closest('tr[data-place]') ? state.at : null;
    const top = scroller().scrollTop;
    body().replaceWith(rows);
    if (rows.dataset.token !== before) {
      // Somebody has changed what is listed: places are not what they were.
      state.ranges = [];
    }
    settle();
    scroller().scrollTop = top;
    if (kept !== null) focus(kept);
  }

  function onScroll() {
    const rows = body();
    if (!rows) return;
    const one = height();
    const first = Math.floor(scroller().scrollTop / one);
    const last = first + Math.ceil(scroller().clientHeight / one);
    const from = Number(rows.dataset.from);
    const drawn = rows.querySelectorAll('tr[data-place]').length;
    if ((first < from && from > 0) || (last > from + drawn && from + drawn < count())) draw(Math.floor((first + last) / 2));
  }

  // Selection: runs of places, so that all of a hundred thousand is one.
  const isSelectable = () => listing.querySelector('table')?.getAttribute('aria-multiselectable') === 'true';
  const isPicked = place => state.ranges.some(([a, b]) => a <= place && place <= b);
  const picked = () => state.ranges.reduce((sum, [a, b]) => sum + b - a + 1, 0);

  function pick(first, last, on = true) {
    const ranges = [];
    for (const [a, b] of state.ranges) {
      if (b < first || a > last) ranges.push([a, b]);
      else {
        if (a < first) ranges.push([a, first - 1]);
        if (b > last) ranges.push([last + 1, b]);
      }
    }
    if (on) ranges.push([first, last]);
    ranges.sort((x, y) => x[0] - y[0]);
    state.ranges = ranges.reduce((joined, [a, b]) => {
      const before = joined.at(-1);
      if (before && before[1] + 1 >= a) before[1] = Math.max(before[1], b);
      else joined.push([a, b]);
      return joined;
    }, []);
    mark();
  }

  const places = () => state.ranges.map(([a, b]) => (a === b ? a : `${a}-${b}`)).join(',');

  function mark() {
    if (!isSelectable()) return;
    for (const row of body()?.querySelectorAll('tr[data-place]') ?? []) {
      row.setAttribute('aria-selected', isPicked(Number(row.dataset.place)) ? 'true' : 'false');
    }
    const many = picked();
    document.querySelectorAll(`[data-picks="${listing.dataset.listing}"]`).forEach(act => {
      act.hidden = many === 0;
      act.querySelectorAll('[data-picked-count]').forEach(at => (at.textContent = many));
      act.querySelectorAll('input[name="picked"]').forEach(at => (at.value = places()));
      act.querySelectorAll('input[name="list"]').forEach(at => (at.value = body()?.dataset.token ?? ''));
      act.dispatchEvent(new CustomEvent('picked'));
    });
  }

  async function focus(place) {
    state.at = Math.max(0, Math.min(count() - 1, place));
    if (!rowOf(state.at)) {
      const at = scroller();
      at.scrollTop = Math.max(0, state.at * height() - at.clientHeight / 2);
      await draw(state.at);
    }
    body()
      .querySelectorAll('tr[tabindex="0"]')
      .forEach(row => (row.tabIndex = -1));
    const row = rowOf(state.at);
    if (!row) return;
    row.tabIndex = 0;
    row.focus({ preventScroll: true });
    row.scrollIntoView({ block: 'nearest' });
  }

  async function copy() {
    const only = state.ranges.length ? { picked: places() } : {};
    const answer = await fetch(address({ handler: 'Rows', format: 'text', list: body()?.dataset.token ?? '', ...only }));
    if (!answer.ok) return;
    const said = listing.querySelector('[data-listing-count]');
    try {
      await navigator.clipboard.writeText(await answer.text());
      said.textContent = `${picked() || count()} copied`;
    } catch {
      said.textContent = 'The browser does not let it be copied; take it as CSV.';
    }
  }

  listing.addEventListener('keydown', event => {
    const row = event.target.closest('tr[data-place]');
    if (!row || event.target !== row) return;
    const page = Math.max(1, Math.floor(scroller().clientHeight / height()) - 1);
    const steps = { ArrowDown: 1, ArrowUp: -1, PageDown: page, PageUp: -page, Home: -count(), End: count() };
    const control = event.ctrlKey || event.metaKey;
    const place = Number(row.dataset.place);
    if (event.key in steps) {
      const to = Math.max(0, Math.min(count() - 1, place + steps[event.key]));
      if (event.shiftKey && isSelectable()) {
        state.ranges = [];
        pick(Math.min(state.anchor, to), Math.max(state.anchor, to));
      } else if (!control) state.anchor = to;
      focus(to);
    } else if (event.key === ' ' && isSelectable()) {
      pick(place, place, !isPicked(place));
      state.anchor = place;
    } else if (control && event.key.toLowerCase() === 'a' && isSelectable()) pick(0, count() - 1);
    else if (control && event.key.toLowerCase() === 'c') copy();
    else if (event.key === 'Escape' && state.ranges.length) {
      state.ranges = [];
      mark();
    } else if (event.key === 'Enter') row.querySelector('a, button')?.click();
    else return;
    event.preventDefault();
  });

  listing.addEventListener('click', event => {
    const sort = event.target.closest('a.sort');
    if (sort && !event.ctrlKey && !event.metaKey) {
      event.preventDefault();
      const field = form().querySelector('input[name="sort"]') ?? form().appendChild(document.createElement('input'));
      Object.assign(field, { type: 'hidden', name: 'sort', value: sort.dataset.sort });
      again();
      return;
    }
    if (event.target.closest('[data-listing-copy]')) {
      copy();
      return;
    }
    if (event.target.closest('[data-listing-clear]') && !event.ctrlKey && !event.metaKey) {
      event.preventDefault();
      form().querySelector('input[type="search"]').value = '';
      form()
        .querySelectorAll('select')
        .forEach(facet => (facet.value = ''));
      again();
      return;
    }
    const row = event.target.closest('tr[data-place]');
    if (!row || event.target.closest('a, button, input, select, label, summary') || !isSelectable()) return;
    const place = Number(row.dataset.place);
    if (event.shiftKey) {
      state.ranges = event.ctrlKey ? state.ranges : [];
      pick(Math.min(state.anchor, place), Math.max(state.anchor, place));
      getSelection()?.removeAllRanges();
    } else if (event.ctrlKey || event.metaKey) {
      pick(place, place, !isPicked(place));
      state.anchor = place;
    } else {
      const only = isPicked(place) && picked() === 1;
      state.ranges = [];
      pick(place, place, !only);
      state.anchor = place;
    }
    focus(place);
  });

  function chooseColumns(event) {
    const item = event.target.closest('li[data-column]');
    const name = `fralto-columns-${listing.dataset.listing}`;
    if (event.target.closest('[data-usual]')) document.cookie = `${name}=; path=/; max-age=0; samesite=strict`;
    else {
      if (event.target.closest('[data-up]')) item.previousElementSibling?.before(item);
      else if (event.target.closest('[data-down]')) item.nextElementSibling?.after(item);
      else if (event.target.type !== 'checkbox') return;
      const keys = [...listing.querySelectorAll('li[data-column]')]
        .filter(li => li.querySelector('input').checked)
        .map(li => li.dataset.column);
      document.cookie = `${name}=${keys.join('.')}; path=/; max-age=31536000; samesite=strict`;
    }
    const focused = item?.dataset.column;
    const what = event.target.closest('[data-up]') ? '[data-up]' : event.target.closest('[data-down]') ? '[data-down]' : 'input';
    again().then(() => {
      const columns = listing.querySelector('[data-listing-columns]');
      columns.open = true;
      columns.querySelector(`li[data-column="${focused}"] ${what}`)?.focus();
    });
  }

  function wire() {
    const filter = form().querySelector('input[type="search"]');
    if (!filter.dataset.wired) {
      filter.dataset.wired = 'true';
      let soon;
      filter.addEventListener('input', () => {
        clearTimeout(soon);
        soon = setTimeout(() => again(), 120);
      });
      filter.addEventListener('keydown', event => {
        if (event.key === 'ArrowDown' && body()) {
          event.preventDefault();
          focus(Number(body().dataset.from));
        }
      });
    }
    form().onsubmit = event => {
      event.preventDefault();
      again();
    };
    form()
      .querySelectorAll('select')
      .forEach(facet => (facet.onchange = () => again()));
    form().querySelector('[data-listing-show]').hidden = true;
    const scroll = scroller();
    if (scroll) scroll.onscroll = () => requestAnimationFrame(onScroll);
    const columns = listing.querySelector('[data-listing-columns]');
    columns.onchange = chooseColumns;
    columns.onclick = event => {
      if (event.target.closest('button')) chooseColumns(event);
    };
  }

  // What has happened since is put in, unless somebody is at the list.
  if (listing.closest('[data-renew="alarms"]'))
    document.body.addEventListener('alarms', () => {
      if (!listing.contains(document.activeElement) && (scroller()?.scrollTop ?? 0) === 0) again();
    });
  // The stream of live values follows so many; of a longer list what is drawn is asked for again and again.
  const followed = 5000;
  const renew = setInterval(() => {
    if (count() > followed && listing.querySelector('[data-value]') && !document.hidden) {
      const from = Number(body().dataset.from);
      draw(from + Math.floor(chunk / 2));
    }
  }, 2000);
  addEventListener('pagehide', () => clearInterval(renew));

  wire();
  gaps();
  mark();
}
