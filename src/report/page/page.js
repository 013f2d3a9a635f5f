// Tables sort by the column whose head is pressed; cells say in data-sort what they sort by.
for (const table of document.querySelectorAll('table.sorts')) {
  for (const head of table.querySelectorAll('th[data-column]')) {
    const button = document.createElement('button');
    button.type = 'button';
    // On paper a head stands again on every page, which a button does not.
    const printed = document.createElement('span');
    printed.className = 'printed';
    printed.append(...[...head.childNodes].map((part) => part.cloneNode(true)));
    button.append(...head.childNodes);
    head.append(button, printed);
    button.addEventListener('click', () => {
      const up = head.getAttribute('aria-sort') !== 'ascending';
      for (const other of table.querySelectorAll('th[aria-sort]')) other.removeAttribute('aria-sort');
      head.setAttribute('aria-sort', up ? 'ascending' : 'descending');
      const body = table.tBodies[0];
      const key = (row) => row.cells[Number(head.dataset.column)].dataset.sort;
      const rows = [...body.rows].map((row, at) => ({ row, at, key: key(row) }));
      rows.sort((one, other) => {
        // What has no figure stays last either way.
        if (one.key === '' || other.key === '') return (one.key === '') - (other.key === '') || one.at - other.at;
        const a = Number(one.key), b = Number(other.key);
        const order = Number.isNaN(a) || Number.isNaN(b) ? one.key.localeCompare(other.key, 'en') : a - b;
        return (up ? order : -order) || one.at - other.at;
      });
      for (const { row } of rows) body.append(row);
    });
  }
}

// What a part of a figure says when pointed at.
const say = document.getElementById('say');
for (const part of document.querySelectorAll('svg title')) {
  const owner = part.parentNode;
  if (owner.nodeName === 'svg') { part.remove(); continue; } // the caption says it; a tooltip would hide the figure
  owner.dataset.say = part.textContent;
  part.remove();
}
/** Says a text beside the pointer; nothing where it is empty. */
function tell(text, event) {
  say.hidden = !text;
  if (!text) return;
  say.textContent = text;
  const right = scrollX + document.documentElement.clientWidth - say.offsetWidth - 8;
  say.style.left = Math.max(scrollX + 8, Math.min(event.pageX + 14, right)) + 'px';
  const below = event.clientY + say.offsetHeight + 24 < innerHeight;
  say.style.top = (below ? event.pageY + 18 : event.pageY - say.offsetHeight - 12) + 'px';
}
document.addEventListener('pointermove', (event) => {
  if (event.target.tagName === 'CANVAS') return; // it says what lies there by itself
  const part = event.target.closest ? event.target.closest('[data-say]') : null;
  tell(part ? part.dataset.say : '', event);
});

// The index says which part of the page is looked at.
const links = new Map([...document.querySelectorAll('#index a')].map((link) => [link.hash.slice(1), link]));
const inSight = new Set();
const follows = new IntersectionObserver((changes) => {
  for (const change of changes) if (change.isIntersecting) inSight.add(change.target.id); else inSight.delete(change.target.id);
  const first = [...links.keys()].find((id) => inSight.has(id));
  for (const [id, link] of links) if (id === first) link.setAttribute('aria-current', 'true'); else link.removeAttribute('aria-current');
}, { rootMargin: '-10% 0px -60% 0px' });
for (const section of document.querySelectorAll('main > section')) follows.observe(section);

// Rows and findings of one owner, or of one level, alone.
const filter = { owner: document.getElementById('owner'), level: document.getElementById('level'), owners: new Map() };
function filterPage() {
  const owner = filter.owner.value;
  const level = filter.level.value;
  let left = 0;
  for (const thing of document.querySelectorAll('[data-levels]')) {
    const names = thing.dataset.levels.split(', ');
    const owned = !owner || thing.dataset.owner === owner || names.some((name) => filter.owners.get(name) === owner);
    const there = owned && (!level || names.includes(level));
    thing.hidden = !there;
    if (!there) ++left;
  }
  for (const kind of document.querySelectorAll('.kind')) kind.hidden = ![...kind.querySelectorAll('li')].some((thing) => !thing.hidden);
  document.getElementById('filtered').textContent = owner || level ? left + (left === 1 ? ' row is' : ' rows are') + ' left out.' : '';
}
/** By what there is to filter: levels, and whose they are. */
function offerFilter(plan) {
  for (const level of plan.levels) if (level.owner) filter.owners.set(level.name, level.owner);
  const owners = [...new Set(filter.owners.values())].sort();
  const levels = plan.levels.filter((level) => level.grid === undefined).map((level) => level.name).sort();
  filter.owner.append(...owners.map((name) => new Option(name, name)));
  filter.level.append(...levels.map((name) => new Option(name, name)));
  filter.owner.parentElement.hidden = owners.length === 0;
  document.querySelector('.filter').hidden = false;
}
filter.owner.addEventListener('change', filterPage);
filter.level.addEventListener('change', filterPage);
