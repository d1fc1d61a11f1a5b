// A list under a field that changes with what is typed: arrow keys choose from it, and what is chosen is taken. Until the answer to what
// is typed has come the list is of what was typed before; keys that choose wait for the new one.
export class Choices {
  field;
  list;
  #isOld = false;
  #waiting = [];
  #takes;
  #leaves;
  #keys;
  #takesFirst;

  // `takes` is called with what is chosen, `leaves` when somebody wants none of it; `keys` are those that take, and `takesFirst` says that
  // they always mean the list, as where its first line is chosen by itself.
  constructor({ takes, leaves, keys = ['Enter'], takesFirst = false }) {
    this.#takes = takes;
    this.#leaves = leaves;
    this.#keys = keys;
    this.#takesFirst = takesFirst;
  }

  // Something else is typed: no key that waits is meant for that.
  outdate() {
    this.#isOld = this.list !== undefined;
    this.#waiting = [];
  }

  // The list is of what is typed.
  renew() {
    this.#isOld = false;
    for (const key of this.#waiting.splice(0)) this.press(key);
  }

  // No answer will come.
  forget() {
    this.#isOld = false;
    this.#waiting = [];
  }

  // True for a key that is one for the list.
  press(key) {
    if (!this.list) return false;
    const hits = [...this.list.querySelectorAll('.hit')];
    const at = hits.findIndex(h => h.getAttribute('aria-selected') === 'true');
    const takes = this.#keys.includes(key) && (this.#takesFirst || at >= 0 || this.#waiting.length > 0);
    if (this.#isOld && (takes || key === 'ArrowDown' || key === 'ArrowUp')) this.#waiting.push(key);
    else if (key === 'ArrowDown') this.#choose(hits, Math.min(at + 1, hits.length - 1));
    else if (key === 'ArrowUp') this.#choose(hits, Math.max(at - 1, 0));
    else if (takes) this.take(hits[at]);
    else if (key === 'Escape') this.#leaves();
    else return false;
    return true;
  }

  take(hit) {
    if (hit) this.#takes(hit);
  }

  #choose(hits, at) {
    for (const [place, hit] of hits.entries()) hit.setAttribute('aria-selected', `${place === at}`);
    this.field.setAttribute('aria-activedescendant', hits[at]?.id ?? '');
    hits[at]?.scrollIntoView({ block: 'nearest' });
  }
}

// The same where the list is made as one types, and goes when something is taken.
export class Completion extends Choices {
  #asked = 0;
  #id;

  constructor(id, takes, keys) {
    super({
      keys,
      leaves: () => this.close(),
      takes: hit => {
        takes(hit, this.field);
        this.close();
      },
    });
    this.#id = id;
    addEventListener('focusout', event => {
      if (event.target === this.field) this.close();
    });
  }

  // Shows under a field what an address answers; nothing where `isNeedless` says so of the answer, or there is none.
  async open(field, address, label, isNeedless) {
    const mine = ++this.#asked;
    this.outdate();
    const answer = await fetch(address).catch(() => undefined);
    const found = (await answer?.text().catch(() => '')) ?? '';
    if (mine !== this.#asked || document.activeElement !== field) return;
    // A list that cannot be brought up to date keeps no keys waiting.
    if (!answer?.ok || isNeedless(found)) return this.close();
    if (this.field !== field || !this.list) this.#hang(field, label);
    this.list.innerHTML = found;
    this.renew();
  }

  close() {
    this.#asked++;
    this.forget();
    this.list?.remove();
    this.list = undefined;
    this.field?.setAttribute('aria-expanded', 'false');
    this.field?.removeAttribute('aria-activedescendant');
  }

  #hang(field, label) {
    this.list?.remove();
    this.field = field;
    this.list = document.createElement('div');
    this.list.className = 'found suggested';
    this.list.id = this.#id;
    this.list.setAttribute('role', 'listbox');
    this.list.setAttribute('aria-label', label);
    this.list.addEventListener('mousedown', event => event.preventDefault());
    this.list.addEventListener('click', event => this.take(event.target.closest('.hit')));
    // Near the right edge the list hangs from the field's other end.
    if (field.getBoundingClientRect().left + 390 > innerWidth) this.list.classList.add('end');
    field.parentElement.append(this.list);
    field.setAttribute('aria-controls', this.#id);
    field.setAttribute('aria-expanded', 'true');
  }
}
