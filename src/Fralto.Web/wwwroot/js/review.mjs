// The review by keyboard: F goes to the next fix, arrows walk the changes; the one walked to is opened by Enter, as any link.

addEventListener('keydown', event => {
  const review = document.querySelector('.review');
  if (!review || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.target.closest('input, textarea, select, [contenteditable]')) return;
  if (event.key === 'f' || event.key === 'F') {
    event.preventDefault();
    walk([...review.querySelectorAll('[data-fix]')], 1);
  } else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
    const links = [...review.querySelectorAll('[data-walk]')];
    if (links.length === 0) return;
    event.preventDefault();
    walk(links, event.key === 'ArrowDown' ? 1 : -1);
  }
});

// A release that is blocked says why beside its button; pressing it again does not ask the server the same.
addEventListener('submit', event => {
  if (event.submitter?.dataset.blocked) event.preventDefault();
});

function walk(all, step) {
  if (all.length === 0) return;
  const at = all.indexOf(document.activeElement);
  const next = all[at < 0 ? (step > 0 ? 0 : all.length - 1) : (at + step + all.length) % all.length];
  next.focus();
  next.scrollIntoView({ block: 'nearest' });
}
