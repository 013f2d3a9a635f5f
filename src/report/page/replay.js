// The replay: a walk, moment by moment. What is shown is read from the records; nothing is simulated.

/** An element with attributes and what it holds. */
function make(name, attributes = {}, ...inside) {
  const element = document.createElement(name);
  for (const [key, value] of Object.entries(attributes)) {
    if (key === 'text') element.textContent = value; else element.setAttribute(key, value);
  }
  element.append(...inside);
  return element;
}

/** Beside a machine's map: memory, frame time, what is on its way, what players see. */
class Panel {
  constructor(walk, machine) {
    this.walk = walk;
    this.machine = machine;
    this.plan = machine.plan;
    this.said = new Map();
    this.element = make('div', { class: 'panel' });
    const part = (title, name) => {
      const body = make('div', { class: name });
      this.element.append(make('h4', { text: title }), body);
      return body;
    };
    this.memory = part('Memory', 'memory');
    this.total = make('p', { class: 'total' });
    this.stack = make('div', { class: 'stack', 'aria-hidden': 'true' });
    this.pools = make('ul', { class: 'pools' });
    this.memory.append(this.total, this.stack, this.pools);
    this.frame = machine.frames ? part('Frame', 'frame') : null;
    this.coming = part('On its way', 'coming');
    this.players = part('Players', 'players');
    this.shown = part('Shown', 'shown');
    this.makeBars();
  }
  makeBars() {
    const { plan, machine } = this;
    const most = Math.max(machine.budget, machine.peak[0], 1);
    this.share = (bytes) => (100 * bytes / most).toFixed(2) + '%';
    this.parts = [...plan.pools, 'in no pool'].map((name, pool) => {
      const part = make('span', { title: name });
      part.style.background = pool < plan.pools.length ? plan.poolColours[pool % plan.poolColours.length] : '#9e9e9e';
      this.stack.append(part);
      return part;
    });
    const mark = make('i', { title: 'budget' });
    mark.style.left = this.share(machine.budget);
    this.stack.append(mark);
    this.poolTexts = plan.pools.map((name, pool) => {
      const text = make('span');
      const colour = make('span', { class: 'swatch', 'aria-hidden': 'true' });
      colour.style.background = plan.poolColours[pool % plan.poolColours.length];
      this.pools.append(make('li', {}, colour, text));
      return text;
    });
  }
  /** Puts a text where it stands, and leaves alone what it is already. */
  put(element, text) {
    if (this.said.get(element) === text) return;
    this.said.set(element, text);
    element.textContent = text;
  }
  list(element, lines, none) {
    const text = lines.join('\n');
    if (this.said.get(element) === text && element.firstChild) return;
    this.said.set(element, text);
    element.replaceChildren(lines.length === 0 ? make('p', { class: 'none', text: none })
      : make('ul', {}, ...lines.map((line) => make('li', { text: line }))));
  }
  say(moment) {
    const { machine, plan } = this;
    const memory = machine.memoryAt(moment);
    const over = memory.total > machine.budget;
    this.put(this.total, mebibytes(memory.total) + ' of ' + mebibytes(machine.budget) + ' MiB' + (over ? ': over budget' : ''));
    this.total.dataset.bytes = memory.total;
    this.total.classList.toggle('bad', over);
    let rest = memory.total;
    plan.pools.forEach((name, pool) => {
      const size = memory.pools[pool];
      const budget = machine.pools[pool];
      rest -= size;
      this.parts[pool].style.width = this.share(size);
      this.put(this.poolTexts[pool], name + ' ' + mebibytes(size) + (budget === null ? ' MiB' : ' of ' + mebibytes(budget) + ' MiB'));
      this.poolTexts[pool].classList.toggle('bad', budget !== null && size > budget);
    });
    this.parts[plan.pools.length].style.width = this.share(Math.max(rest, 0));
    if (this.frame) {
      const frame = machine.frameAt(moment);
      const slow = frame && frame[1] > machine.longestFrame;
      this.put(this.frame, !frame ? 'nothing yet' : frame[2] ? 'stands still'
        : (frame[1] / 1000).toFixed(2) + ' of ' + (machine.longestFrame / 1000).toFixed(2) + ' ms' + (slow ? ': too slow' : ''));
      this.frame.classList.toggle('bad', Boolean(slow));
    }
    const mostLines = 8;
    const coming = machine.comingAt(moment);
    const lines = coming.slice(0, mostLines).map((each) => {
      const [word] = plan.conditions[each.condition];
      const then = each.to === condition.shown ? 'shown in ' : each.to === condition.ready ? 'ready in ' : 'given up in ';
      return machine.pieceName(each.piece) + ': ' + word + ', ' + then + duration(each.left);
    });
    if (coming.length > mostLines) lines.push((coming.length - mostLines) + ' more');
    this.list(this.coming, lines, 'nothing');
    this.list(this.players, machine.players.map((player) => {
      const { world, x, y, z } = this.walk.placeOf(player, moment);
      const where = world < 0 ? 'nowhere' : 'at ' + [x, y, z].map((each) => each.toFixed(2)).join(', ') + (plan.worlds.length > 1 ? ' in world ' + plan.worlds[world] : '');
      const doing = machine.doingOf(player, moment);
      return this.walk.players[player].name + ': ' + sightOf(plan, machine.seenBy(player, moment)) + '; ' + where + (doing ? ', ' + doing : '');
    }), machine.headless ? 'nobody sits here: it only keeps the game' : 'nobody');
    this.list(this.shown, this.shownNames(moment), 'nothing');
  }
  shownNames(moment) {
    const { plan } = this;
    const cells = new Map(); // of each grid: how many
    const names = [];
    for (const level of this.machine.shownAt(moment)) {
      const { name, grid } = plan.levels[level];
      if (grid === undefined) names.push(name); else cells.set(grid, (cells.get(grid) || 0) + 1);
    }
    for (const count of cells.values()) names.push(count + (count === 1 ? ' cell' : ' cells'));
    return names.length > 0 ? [names.join(', ')] : [];
  }
}

class Replay {
  constructor(root) {
    this.root = root;
    this.plans = new Map();
    this.walks = new Map();
    this.moment = 0;
    this.playing = false;
    this.sources = [...document.querySelectorAll('script.walk-data')];
    this.part = (name) => root.querySelector('#' + name);
    this.still = matchMedia('(prefers-reduced-motion: reduce)');
    this.makeControls();
    this.takeKeys();
  }

  // --- what is looked at ------------------------------------------------------

  /** The walks of a route, by the plan that is looked at. */
  sourcesOf(route) {
    return this.sources.filter((source) => source.dataset.route === route && source.dataset.version === this.part('version').value);
  }
  offerRoutes() {
    const route = this.part('route');
    const before = route.value;
    const version = this.part('version').value;
    const routes = [...new Set(this.sources.filter((source) => source.dataset.version === version).map((source) => source.dataset.route))];
    route.replaceChildren(...routes.map((name) => new Option(name, name)));
    if (routes.includes(before)) route.value = before;
  }
  async planOf(version) {
    if (!this.plans.has(version))
      this.plans.set(version, await unpacked(document.querySelector('script.plan-data[data-version="' + version + '"]')));
    return this.plans.get(version);
  }
  makeControls() {
    this.offerRoutes();
    this.part('route').addEventListener('change', () => { this.offer(); this.choose(this.chosen()); });
    this.part('version').parentElement.hidden = !this.sources.some((source) => source.dataset.version === 'before');
    this.part('version').addEventListener('change', () => {
      this.offerRoutes();
      this.offer();
      this.choose(this.chosen(), this.moment); // the same moment, on the other plan
    });
    this.part('device').addEventListener('change', () => this.choose(this.chosen()));
    this.part('play').addEventListener('click', () => this.play(!this.playing));
    this.part('previous').addEventListener('click', () => this.step(-1));
    this.part('next').addEventListener('click', () => this.step(1));
    this.part('time').addEventListener('input', () => this.seek(Number(this.part('time').value)));
    this.part('world').addEventListener('change', () => { this.view.world = Number(this.part('world').value); this.lookAtWorld(); });
    this.part('floor').addEventListener('change', () => { this.view.floor = Number(this.part('floor').value); this.draw(); });
    this.part('closer').addEventListener('click', () => this.zoom(1.5));
    this.part('farther').addEventListener('click', () => this.zoom(1 / 1.5));
    this.part('whole').addEventListener('click', () => this.fit());
    this.part('follow').addEventListener('change', () => { this.followScale = 0; this.draw(); });
    matchMedia('(prefers-color-scheme: dark)').addEventListener('change', () => this.resize());
    new ResizeObserver(() => this.resize()).observe(this.part('machines'));
  }
  /** What the route was walked on. */
  offer() {
    const device = this.part('device');
    const before = device.value;
    const on = this.sourcesOf(this.part('route').value).map((source) => source.dataset.on);
    device.replaceChildren(...on.map((name) => new Option(name, name)));
    if (on.includes(before)) device.value = before;
  }
  chosen() {
    return this.sourcesOf(this.part('route').value).find((source) => source.dataset.on === this.part('device').value);
  }
  /** Looks at a walk, at a moment. */
  async choose(source, moment = 0) {
    this.play(false);
    if (this.part('version').value !== source.dataset.version) {
      this.part('version').value = source.dataset.version;
      this.offerRoutes();
    }
    this.part('route').value = source.dataset.route;
    this.offer();
    this.part('device').value = source.dataset.on;
    this.source = source;
    const plan = await this.planOf(source.dataset.version);
    if (!this.walks.has(source)) this.walks.set(source, new Walk(await unpacked(source), plan));
    if (this.source !== source) return; // another was chosen meanwhile
    this.walk = this.walks.get(source);
    if (!this.view || this.view.plan !== plan) {
      this.view = new View(plan);
      this.offerWorlds();
    }
    this.root.dataset.walk = source.dataset.id;
    this.root.dataset.version = source.dataset.version;
    this.build();
    this.moment = Math.min(Math.max(moment, 0), this.walk.end);
    this.follow();
    this.followScale = 0;
    this.resize();
    this.remember();
  }
  offerWorlds() {
    const world = this.part('world');
    const worlds = this.view.worlds();
    this.view.world = worlds[0] || 0;
    world.replaceChildren(...worlds.map((each) => new Option(this.view.plan.worlds[each], each)));
    world.parentElement.hidden = worlds.length < 2;
    this.offerFloors();
  }
  offerFloors() {
    const floor = this.part('floor');
    const names = this.view.floorNames();
    this.view.floor = -1;
    floor.replaceChildren(new Option('all', -1), ...names.map((name, number) => new Option(name, number)));
    floor.parentElement.hidden = names.length === 0;
  }
  lookAtWorld() {
    this.part('world').value = this.view.world;
    this.followScale = 0;
    this.offerFloors();
    if (this.part('follow').checked) this.draw(); else this.fit();
  }
  /** Looks at the world in which the first player is. */
  follow() {
    const { world } = this.walk.placeOf(0, this.moment);
    if (world < 0 || world === this.view.world || !this.part('follow').checked) return;
    this.view.world = world;
    this.lookAtWorld();
  }

  // --- what it is made of -----------------------------------------------------

  build() {
    const { walk } = this;
    const several = walk.machines.length > 1;
    const places = [];
    const strips = [];
    this.maps = [];
    this.panels = [];
    this.strips = [];
    for (const machine of walk.machines) {
      const canvas = make('canvas', { role: 'img', tabindex: '0', 'aria-label': 'Map' });
      const panel = new Panel(walk, machine);
      const heading = several ? [make('h3', { text: machine.name + ': ' + machine.verdict })] : [];
      places.push(make('div', { class: 'machine' }, ...heading, make('div', { class: 'map' }, canvas), panel.element));
      const map = new WorldMap(canvas, this.view, walk, machine);
      this.maps.push(map);
      this.panels.push(panel);
      this.takePointer(canvas, map);
      if (machine.headless) continue;
      const strip = make('canvas', { role: 'img', 'aria-label': 'What players see, memory and loads over time on ' + machine.name });
      const cursor = make('div', { class: 'cursor' });
      strips.push(...(several ? [make('h4', { text: machine.name })] : []), this.legend(machine.bands.map((band) => [band.name, band.colour]).reverse(), 'Memory:'),
        make('div', { class: 'strip' }, strip, cursor));
      const drawn = new Strips(strip, walk, machine, walk.end);
      this.strips.push({ drawn, cursor });
      this.takeStrip(strip, drawn);
    }
    this.part('machines').replaceChildren(...places);
    this.part('legend').replaceChildren(this.legend(this.colours(), 'Levels:'));
    this.part('machines').classList.toggle('several', several);
    this.part('strips').replaceChildren(...strips);
    const time = this.part('time');
    time.max = walk.end;
    time.step = 1000;
    this.part('walk-summary').replaceChildren(...walk.machines.map((machine) => make('p', {},
      ...(several ? [machine.name + ': '] : []), make('strong', { class: machine.grade, text: machine.verdict }), '. ' + machine.summary)));
    this.buildLists(several);
  }
  legend(entries, title = '') {
    return make('div', { class: 'legend' }, title, ...entries.map(([word, colour]) => {
      const swatch = make('span', { class: 'swatch' });
      swatch.style.background = colour;
      return make('span', {}, swatch, word);
    }));
  }
  /** What colours of the map mean: the conditions that occur, and what may go wrong. */
  colours() {
    const met = new Set(this.walk.machines.flatMap((machine) => machine.pieces.flatMap(([, ...stretches]) => stretches.map(([now]) => now))));
    const entries = this.view.plan.conditions.filter((_, now) => met.has(now));
    if (this.walk.machines.some((machine) => machine.gaps.length > 0)) entries.push(['gap', 'var(--bad)']);
    if (this.walk.machines.some((machine) => machine.fired.length > 0)) entries.push(['trigger that fires', 'var(--good)']);
    return entries;
  }
  /** Transitions and findings of the walk, each a way to its moment. */
  buildLists(several) {
    const go = (moment, text) => {
      const button = make('button', { type: 'button', class: 'go', 'data-moment': moment, text });
      button.addEventListener('click', () => { this.play(false); this.seek(moment); this.root.scrollIntoView({ block: 'start' }); });
      return button;
    };
    this.rows = [];
    const lists = [];
    this.walk.machines.forEach((machine, number) => {
      if (several) lists.push(make('h4', { text: machine.name }));
      const body = make('tbody');
      this.rows[number] = machine.transitions.map(([count, fired, took, cause, levels, slack, stall, peak]) => {
        const quiet = levels === '' && took === 0;
        const row = make('tr', quiet ? { class: 'quiet' } : {}, make('td', { class: 'number', text: count }), make('td', { class: 'number' }, go(fired, seconds(fired) + ' s')),
          make('th', { scope: 'row', text: cause }), make('td', { text: levels }), make('td', { class: 'number', text: took === 0 ? 'at once' : duration(took) }),
          make('td', { class: 'number' + (slack !== null && slack < 0 ? ' bad' : ''), text: slack === null ? '-' : (slack > 0 ? '+' : '') + duration(slack) }),
          make('td', { class: 'number', text: stall === 0 ? 'none' : duration(stall) }),
          make('td', { class: 'number' + (peak > machine.budget ? ' bad' : ''), text: mebibytes(peak) }));
        row.dataset.levels = levels;
        body.append(row);
        return row;
      });
      const heads = ['number', 'fired at', 'transition', 'levels', 'settled after', 'least slack', 'stall', 'peak (MiB)'];
      lists.push(machine.transitions.length === 0 ? make('p', { text: 'No transition.' })
        : make('div', { class: 'scroll' }, make('table', { 'aria-label': 'Transitions of this walk, in order' },
          make('thead', {}, make('tr', {}, ...heads.map((text, i) => make('th', { scope: 'col', class: i < 2 || i > 3 ? 'number' : '', text })))), body)));
    });
    this.part('transitions').replaceChildren(...lists);
    const found = [];
    for (const machine of this.walk.machines) {
      for (const [severity, name, message, from, level] of machine.findings) {
        const line = make('li', {}, make('span', { class: 'severity ' + severity, text: severity }), ' ', message + ' ', make('code', { text: name }));
        if (level >= 0) line.dataset.levels = machine.plan.levels[level].name;
        if (from !== null) line.append(' ', go(from, 'at ' + seconds(from) + ' s'));
        found.push(line);
      }
    }
    this.part('walk-findings').replaceChildren(found.length > 0 ? make('ul', { class: 'findings' }, ...found) : make('p', { text: 'Nothing found.' }));
    this.part('peak').replaceChildren(...this.walk.machines.filter((machine) => machine.held.length > 0).map((machine) => make('p', {},
      (several ? machine.name + ' at ' : 'At ') + seconds(machine.peak[1]) + ' s, ' + mebibytes(machine.peak[0]) + ' MiB: '
      + machine.held.slice(0, 12).map(([name, size]) => name + ' ' + mebibytes(size)).join(', ') + (machine.held.length > 12 ? ', ' + (machine.held.length - 12) + ' others' : '') + '.')));
    filterPage();
  }

  // --- the clock --------------------------------------------------------------

  play(on) {
    if (on === this.playing) return;
    this.playing = on;
    const button = this.part('play');
    button.textContent = on ? 'Pause' : 'Play';
    button.setAttribute('aria-pressed', String(on));
    if (!on) { this.draw(); this.remember(); return; }
    if (this.moment >= this.walk.end) this.moment = 0;
    let before = performance.now();
    const tick = (now) => {
      if (!this.playing) return;
      this.moment = Math.min(this.moment + (now - before) * 1000 * Number(this.part('speed').value), this.walk.end);
      before = now;
      this.follow();
      this.draw();
      if (this.moment >= this.walk.end) this.play(false); else requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  }
  seek(moment) {
    this.moment = Math.round(Math.min(Math.max(moment, 0), this.walk.end));
    this.follow();
    this.draw();
    if (!this.playing) this.remember();
  }
  /** To the next transition of any machine, or the one before. */
  step(way) {
    const moments = this.walk.machines.flatMap((machine) => machine.transitions.map((transition) => transition[1]));
    const beyond = moments.filter((moment) => way > 0 ? moment > this.moment : moment < this.moment);
    if (beyond.length > 0) { this.play(false); this.seek(way > 0 ? Math.min(...beyond) : Math.max(...beyond)); }
  }
  /** The page's address leads back here. */
  remember() {
    const before = this.source.dataset.version === 'before' ? 'before:' : '';
    const address = '#' + before + this.source.dataset.id + '@' + (this.moment / 1e6).toFixed(3);
    if (location.hash !== address) history.replaceState(null, '', address);
  }

  // --- drawing ----------------------------------------------------------------

  resize() {
    if (!this.walk) return;
    for (const map of this.maps) map.resize();
    if (!this.part('follow').checked) this.view.fit(this.maps[0].width, this.maps[0].height);
    for (const { drawn } of this.strips) drawn.draw();
    this.draw();
  }
  /** The whole map. */
  fit() {
    this.part('follow').checked = false;
    this.view.fit(this.maps[0].width, this.maps[0].height);
    this.draw();
  }
  zoom(factor, dx, dy) {
    if (this.part('follow').checked) this.followScale *= factor; else this.view.zoom(factor, dx, dy);
    this.draw();
  }
  pan(dx, dy) {
    this.part('follow').checked = false;
    this.view.pan(dx, dy);
    this.draw();
  }
  /** Keeps players in the middle, where that is asked for. */
  lookAtPlayers() {
    const [{ width, height }] = this.maps;
    if (!width || !this.part('follow').checked) return;
    if (!this.followScale) this.followScale = this.view.scaleToFollow(width, height);
    const places = this.walk.players.map((_, player) => this.walk.placeOf(player, this.moment)).filter((place) => place.world === this.view.world);
    if (places.length > 0) this.view.centreOn(places, this.followScale, width, height); else this.view.scale = this.followScale;
  }
  draw() {
    const { moment, walk } = this;
    const speed = Number(this.part('speed').value);
    const flash = (this.playing && !this.still.matches ? 0.7 * Math.max(speed, 1) : 0.7) * 1e6;
    this.lookAtPlayers();
    for (const map of this.maps) if (map.width) map.draw(moment, flash);
    for (const panel of this.panels) panel.say(moment);
    for (const { drawn, cursor } of this.strips) if (drawn.left) cursor.style.left = drawn.x(moment) + 'px';
    this.part('time').value = moment;
    this.part('time').setAttribute('aria-valuetext', seconds(moment) + ' seconds');
    this.part('now').textContent = seconds(moment) + ' of ' + seconds(walk.end) + ' s';
    this.root.dataset.moment = Math.round(moment);
    this.root.dataset.scale = this.view.scale.toPrecision(6);
    this.root.dataset.middle = this.view.x.toFixed(3) + ' ' + this.view.z.toFixed(3);
    walk.machines.forEach((machine, number) => {
      const last = machine.transitionAt(moment);
      this.rows[number].forEach((row, i) => row.classList.toggle('now', i === last));
    });
    if (!this.playing) this.describe();
  }
  /** The map in words, for who can't see it. */
  describe() {
    this.maps.forEach((map, number) => {
      const machine = this.walk.machines[number];
      const gaps = machine.gapsAt(this.moment).map((gap) => machine.plan.levels[gap[1]].name);
      map.canvas.setAttribute('aria-label', 'Map of world ' + machine.plan.worlds[this.view.world] + ' at ' + seconds(this.moment) + ' s. Shown: '
        + (this.panels[number].shownNames(this.moment)[0] || 'nothing') + (gaps.length > 0 ? '. Missing: ' + gaps.join(', ') : '') + '.');
    });
  }

  // --- pointer and keys -------------------------------------------------------

  takePointer(canvas, map) {
    let last = null;
    canvas.addEventListener('pointerdown', (event) => { last = event; canvas.setPointerCapture(event.pointerId); });
    canvas.addEventListener('pointerup', () => { last = null; });
    canvas.addEventListener('pointercancel', () => { last = null; });
    canvas.addEventListener('pointermove', (event) => {
      if (!last) { tell(map.said(event.offsetX, event.offsetY, this.moment), event); return; }
      tell('', event);
      if (event.clientX !== last.clientX || event.clientY !== last.clientY) this.pan(event.clientX - last.clientX, event.clientY - last.clientY);
      last = event;
    });
    canvas.addEventListener('wheel', (event) => {
      event.preventDefault();
      this.zoom(Math.exp(-event.deltaY * 0.0015), event.offsetX - map.width / 2, event.offsetY - map.height / 2);
    }, { passive: false });
    canvas.addEventListener('dblclick', () => this.fit());
  }
  takeStrip(canvas, drawn) {
    let scrubs = false;
    canvas.addEventListener('pointerdown', (event) => {
      canvas.setPointerCapture(event.pointerId);
      scrubs = true;
      this.play(false);
      this.seek(drawn.spotAt(event.offsetX, event.offsetY).moment);
    });
    canvas.addEventListener('pointerup', () => { scrubs = false; });
    canvas.addEventListener('pointercancel', () => { scrubs = false; });
    canvas.addEventListener('pointermove', (event) => {
      if (scrubs && event.movementX !== 0) this.seek(drawn.momentAt(event.offsetX));
      tell(drawn.spotAt(event.offsetX, event.offsetY).text, event);
    });
  }
  takeKeys() {
    document.addEventListener('keydown', (event) => {
      if (!this.walk || event.ctrlKey || event.metaKey || event.altKey) return;
      const inField = /^(INPUT|SELECT|TEXTAREA)$/.test(event.target.tagName);
      const presses = /^(BUTTON|SUMMARY|A)$/.test(event.target.tagName) && (event.key === ' ' || event.key === 'Enter');
      const onPage = event.target === document.body || this.root.contains(event.target);
      if (inField || presses || !onPage) return;
      const second = 1e6 * (event.shiftKey ? 10 : 1);
      const onMap = event.target.tagName === 'CANVAS' && event.shiftKey;
      const actions = {
        ' ': () => this.play(!this.playing),
        ArrowLeft: () => onMap ? this.pan(40, 0) : this.seek(this.moment - second),
        ArrowRight: () => onMap ? this.pan(-40, 0) : this.seek(this.moment + second),
        ArrowUp: onMap ? () => this.pan(0, 40) : null,
        ArrowDown: onMap ? () => this.pan(0, -40) : null,
        ',': () => this.seek(this.moment - 1e5),
        '.': () => this.seek(this.moment + 1e5),
        Home: () => this.seek(0),
        End: () => this.seek(this.walk.end),
        '+': () => this.zoom(1.5),
        '-': () => this.zoom(1 / 1.5),
        0: () => this.fit(),
        n: () => this.step(1),
        p: () => this.step(-1),
        f: () => this.faster(1),
        s: () => this.faster(-1),
      };
      const action = actions[event.key];
      if (!action) return;
      event.preventDefault();
      action();
    });
  }
  faster(way) {
    const speed = this.part('speed');
    speed.selectedIndex = Math.min(Math.max(speed.selectedIndex + way, 0), speed.options.length - 1);
  }
}

/** The walk and the moment that an address names: "#first-round--handheld@12.345"; null: none. */
function addressed(replay) {
  let address = location.hash.slice(1);
  try { address = decodeURIComponent(address); } catch { return null; }
  const [id, at] = address.split('@');
  const [, before, walk] = id.match(/^(before:)?(.*)$/);
  const source = replay.sources.find((each) => each.dataset.id === walk && each.dataset.version === (before ? 'before' : 'after'));
  return source ? { source, moment: Math.round(Number(at || 0) * 1e6) || 0 } : null;
}

const replayRoot = document.getElementById('replay');
// Browsers older than 2023 can't unpack the data: they show the stills, as without scripts.
const replay = document.querySelector('script.walk-data') && 'DecompressionStream' in window ? new Replay(replayRoot) : null;
if (replay) {
  const start = async () => {
    const named = addressed(replay);
    await replay.choose(named ? named.source : replay.sources[0], named ? named.moment : 0);
    offerFilter(replay.view.plan);
    if (named) replayRoot.scrollIntoView({ block: 'start' });
  };
  addEventListener('hashchange', async () => {
    const named = addressed(replay);
    if (!named) return;
    if (named.source === replay.source) replay.seek(named.moment); else await replay.choose(named.source, named.moment);
    replayRoot.scrollIntoView({ block: 'start' });
  });
  replayRoot.querySelector('.unscripted').hidden = true;
  replayRoot.querySelector('.replay').hidden = false;
  start();
}
