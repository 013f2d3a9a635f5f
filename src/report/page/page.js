'use strict';
// Which walk is looked at.
const walks = [...document.querySelectorAll('.walk')];
const device = document.getElementById('device');
const route = document.getElementById('route');
const devices = [...device.options].map((option) => option.value);
// The route first, then what it was walked on.
function offer() {
  const before = device.value;
  const on = devices.filter((name) =>
    walks.some((walk) => walk.dataset.route === route.value && walk.dataset.device === name));
  device.replaceChildren(...on.map((name) => new Option(name, name)));
  if (on.includes(before)) device.value = before;
}
function choose() {
  let chosen = null;
  for (const walk of walks) {
    walk.hidden = walk.dataset.device !== device.value || walk.dataset.route !== route.value;
    if (!walk.hidden) chosen = walk;
  }
  document.getElementById('chosen').textContent =
    chosen ? '' : route.value + ' was not walked on ' + device.value + '.';
}
function lookAt(walk) {
  route.value = walk.dataset.route;
  offer();
  device.value = walk.dataset.device;
  choose();
}
if (walks.length > 0) {
  document.querySelector('.choice').hidden = false;
  device.addEventListener('change', choose);
  route.addEventListener('change', () => { offer(); choose(); });
  const named = () => walks.find((walk) => '#' + walk.id === location.hash);
  addEventListener('hashchange', () => {
    const walk = named();
    if (walk) { lookAt(walk); walk.scrollIntoView(); }
  });
  lookAt(named() || walks[0]);
}

// Tables sort by the column whose head is pressed; cells say in data-sort what they sort by.
for (const table of document.querySelectorAll('table.sorts')) {
  for (const head of table.querySelectorAll('th[data-column]')) {
    const button = document.createElement('button');
    button.type = 'button';
    button.append(...head.childNodes);
    head.append(button);
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
document.addEventListener('pointermove', (event) => {
  const part = event.target.closest ? event.target.closest('[data-say]') : null;
  say.hidden = !part;
  if (!part) return;
  say.textContent = part.dataset.say;
  const right = scrollX + document.documentElement.clientWidth - say.offsetWidth - 8;
  say.style.left = Math.max(scrollX + 8, Math.min(event.pageX + 14, right)) + 'px';
  const below = event.clientY + say.offsetHeight + 24 < innerHeight;
  say.style.top = (below ? event.pageY + 18 : event.pageY - say.offsetHeight - 12) + 'px';
});
