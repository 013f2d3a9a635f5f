// The map of a machine: levels in the colours of their conditions, paths, triggers, players.

/** A colour of the page, as light or dark as the page is. */
function pageColour(name) {
  return getComputedStyle(document.documentElement).getPropertyValue('--' + name).trim();
}

/** A canvas as sharp as the screen; what is drawn on it is in the page's pixels. */
function sized(canvas, width, height) {
  const ratio = window.devicePixelRatio || 1;
  canvas.width = Math.round(width * ratio);
  canvas.height = Math.round(height * ratio);
  const context = canvas.getContext('2d');
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  return context;
}

/** What of a world is looked at, and how large. Maps side by side share one. */
class View {
  constructor(plan) {
    this.plan = plan;
    this.world = 0;
    this.floor = -1; // all
    this.scale = 1;  // pixels a metre
    this.x = 0;      // metres at the middle
    this.z = 0;
    this.bounds = plan.worlds.map((_, world) => this.boundsOf(world));
  }
  boundsOf(world) {
    const bounds = { x0: Infinity, x1: -Infinity, z0: Infinity, z1: -Infinity };
    const add = (x, z) => {
      bounds.x0 = Math.min(bounds.x0, x); bounds.x1 = Math.max(bounds.x1, x);
      bounds.z0 = Math.min(bounds.z0, z); bounds.z1 = Math.max(bounds.z1, z);
    };
    const addAll = (corners) => corners.forEach(([x, z]) => add(x, z));
    for (const level of this.plan.levels) {
      if (level.world !== world) continue;
      for (const [corners] of level.area || []) addAll(corners);
      for (const [corners] of level.seen || []) addAll(corners);
    }
    for (const trigger of this.plan.triggers) {
      if (trigger.world !== world) continue;
      if (trigger.box) addAll(trigger.box[0]);
      if (trigger.sphere) {
        const [x, z, radius] = trigger.sphere;
        add(x - radius, z - radius); add(x + radius, z + radius);
      }
    }
    for (const path of this.plan.paths) if (path.world === world) path.points.forEach(([x, , z]) => add(x, z));
    for (const [, of, [x, , z]] of this.plan.waypoints) if (of === world) add(x, z);
    return bounds.x0 <= bounds.x1 ? bounds : null;
  }
  /** Worlds in which anything stands. */
  worlds() {
    return this.plan.worlds.map((_, world) => world).filter((world) => this.bounds[world]);
  }
  fit(width, height) {
    const bounds = this.bounds[this.world];
    if (!bounds) return;
    const room = 36;
    const wide = Math.max(bounds.x1 - bounds.x0, 1);
    const deep = Math.max(bounds.z1 - bounds.z0, 1);
    this.scale = Math.min((width - 2 * room) / wide, (height - 2 * room) / deep);
    this.x = (bounds.x0 + bounds.x1) / 2;
    this.z = (bounds.z0 + bounds.z1) / 2;
  }
  /** How large things are while players are followed: a few levels fit beside each other. */
  scaleToFollow(width, height) {
    const sides = [];
    for (const level of this.plan.levels) {
      if (level.world !== this.world || level.grid !== undefined) continue;
      for (const [corners] of level.area || []) sides.push(Math.max(...corners.map(([x]) => x)) - Math.min(...corners.map(([x]) => x)));
    }
    sides.sort((one, other) => one - other);
    const beside = 5;
    this.fit(width, height);
    if (sides.length > 0) this.scale = Math.max(this.scale, width / beside / Math.max(sides[sides.length >> 1], 1));
    return this.scale;
  }
  /** Puts places in the middle; farther off where they would not all be in sight. */
  centreOn(places, scale, width, height) {
    const xs = places.map((place) => place.x);
    const zs = places.map((place) => place.z);
    const [x0, x1, z0, z1] = [Math.min(...xs), Math.max(...xs), Math.min(...zs), Math.max(...zs)];
    const room = 0.7;
    this.scale = Math.min(scale, room * width / Math.max(x1 - x0, 1), room * height / Math.max(z1 - z0, 1));
    this.x = (x0 + x1) / 2;
    this.z = (z0 + z1) / 2;
  }
  zoom(factor, dx = 0, dy = 0) {
    const before = this.scale;
    this.scale = Math.min(Math.max(this.scale * factor, 0.002), 400);
    // What lies under the pointer stays there.
    this.x += dx / before - dx / this.scale;
    this.z += dy / before - dy / this.scale;
  }
  pan(dx, dy) {
    this.x -= dx / this.scale;
    this.z -= dy / this.scale;
  }
  /** Lowest and highest y of the floor that is looked at. */
  heights() {
    const ends = this.plan.floors[this.world] || [];
    if (this.floor < 0) return [-Infinity, Infinity];
    return [this.floor > 0 ? ends[this.floor - 1] : -Infinity, this.floor < ends.length ? ends[this.floor] : Infinity];
  }
  /** Whether something between two heights is on that floor, by more than it may reach into it. */
  onFloor(low, high) {
    const [from, to] = this.heights();
    const least = Math.min(0.1, (high - low) / 2);
    return high - from > least && to - low > least || (low >= from && high <= to);
  }
  floorNames() {
    const ends = this.plan.floors[this.world] || [];
    if (ends.length === 0) return [];
    const names = ['below ' + ends[0] + ' m'];
    for (let i = 0; i + 1 < ends.length; ++i) names.push(ends[i] + ' to ' + ends[i + 1] + ' m');
    names.push('above ' + ends[ends.length - 1] + ' m');
    return names;
  }
}

/** Draws one machine's map on a canvas. */
class WorldMap {
  constructor(canvas, view, walk, machine) {
    this.canvas = canvas;
    this.view = view;
    this.walk = walk;
    this.machine = machine;
  }
  resize() {
    this.width = this.canvas.clientWidth;
    this.height = this.canvas.clientHeight;
    this.context = sized(this.canvas, this.width, this.height);
    this.colours = Object.fromEntries(['paper', 'sheet', 'ink', 'muted', 'line', 'area-edge', 'bad', 'good', 'veil']
      .map((name) => [name, pageColour(name)]));
    this.font = getComputedStyle(document.body).fontFamily;
  }
  at(x, z) {
    const { view } = this;
    return [this.width / 2 + (x - view.x) * view.scale, this.height / 2 + (z - view.z) * view.scale];
  }
  /** Adds a line to what is drawn next; everything that looks alike is drawn at once. */
  trace(points, closed = false) {
    const { context } = this;
    points.forEach(([x, z], i) => {
      const [left, top] = this.at(x, z);
      if (i === 0) context.moveTo(left, top); else context.lineTo(left, top);
    });
    if (closed) context.closePath();
  }
  fill(outlines, colour, strength) {
    const { context } = this;
    context.beginPath();
    for (const corners of outlines) this.trace(corners, true);
    context.globalAlpha = strength;
    context.fillStyle = colour;
    context.fill();
    context.globalAlpha = 1;
  }
  stroke(colour, width, dash, trace) {
    const { context } = this;
    context.beginPath();
    trace();
    context.strokeStyle = colour;
    context.lineWidth = width;
    context.setLineDash(dash);
    context.stroke();
    context.setLineDash([]);
  }
  /** A name that stands on whatever lies below it. */
  label(text, left, top, colour, size = 12, align = 'center') {
    const { context } = this;
    context.font = size + 'px ' + this.font;
    context.textAlign = align;
    context.textBaseline = 'middle';
    context.lineWidth = 3;
    context.lineJoin = 'round';
    context.strokeStyle = this.colours.paper;
    context.strokeText(text, left, top);
    context.fillStyle = colour;
    context.fillText(text, left, top);
  }
  /** Names that do not lie on one another: the first that asks has the room. */
  claim(text, left, top, size) {
    this.context.font = size + 'px ' + this.font;
    const half = this.context.measureText(text).width / 2 + 2;
    const box = [left - half, top - size * 0.7, left + half, top + size * 0.7];
    if (this.names.some((other) => box[0] < other[2] && other[0] < box[2] && box[1] < other[3] && other[1] < box[3])) return false;
    this.names.push(box);
    return true;
  }
  draw(moment, flash) {
    const { context } = this;
    this.names = [];
    context.fillStyle = this.colours.paper;
    context.fillRect(0, 0, this.width, this.height);
    if (!this.view.bounds[this.view.world]) {
      this.label('Nothing of this plan has a place.', this.width / 2, this.height / 2, this.colours.muted);
      return;
    }
    this.drawLevels(moment);
    this.drawPaths();
    this.drawTriggers(moment, flash);
    this.drawTrails(moment);
    this.drawVeil(moment);
    this.drawPlayers(moment);
    this.drawNames(moment);
    this.drawScale();
  }
  drawLevels(moment) {
    const { view } = this;
    const { levels, conditions } = view.plan;
    const missing = new Set(this.machine.gapsAt(moment).map((gap) => gap[1]));
    const byCondition = conditions.map(() => []);
    const edges = { plain: [], cells: [], missing: [], seen: [] };
    this.labels = [];
    levels.forEach((level, number) => {
      if (level.world !== view.world) return;
      const now = this.machine.conditionOf(number, moment);
      for (const [corners, low, high] of level.seen || []) if (view.onFloor(low, high)) edges.seen.push(corners);
      (level.area || []).forEach(([corners, low, high], box) => {
        if (!view.onFloor(low, high)) return;
        if (now !== condition.absent) byCondition[now].push(corners);
        edges[missing.has(number) ? 'missing' : level.grid === undefined ? 'plain' : 'cells'].push(corners);
        if (box === 0) this.labels.push([level, corners, now, missing.has(number)]);
      });
    });
    byCondition.forEach((outlines, now) => {
      for (const corners of outlines) this.fill([corners], conditions[now][1], now === condition.shown ? 0.5 : 0.75);
    });
    this.fill(edges.missing, this.colours.bad, 0.75);
    const all = (outlines) => () => outlines.forEach((corners) => this.trace(corners, true));
    this.stroke(this.colours['area-edge'], 1, [2, 3], all(edges.seen));
    this.stroke(this.colours.line, 1, [], all(edges.cells));
    this.stroke(this.colours['area-edge'], 1, [], all(edges.plain));
    this.stroke(this.colours.bad, 3, [], all(edges.missing));
  }
  drawNames() {
    for (const [level, corners, now, missing] of this.labels) {
      const points = corners.map(([x, z]) => this.at(x, z));
      const left = Math.min(...points.map((point) => point[0]));
      const right = Math.max(...points.map((point) => point[0]));
      const top = Math.min(...points.map((point) => point[1]));
      const bottom = Math.max(...points.map((point) => point[1]));
      if (right < 0 || left > this.width || bottom < 0 || top > this.height) continue;
      const size = 12;
      this.context.font = size + 'px ' + this.font;
      const fits = this.context.measureText(level.name).width <= Math.max(right - left, level.grid === undefined ? 60 : 0) && bottom - top >= 8;
      const x = (Math.max(left, 0) + Math.min(right, this.width)) / 2;
      const y = Math.max(top + 9, 9);
      if ((fits || missing) && this.claim(level.name, x, y, size))
        this.label(level.name, x, y, missing ? this.colours.bad : now === condition.absent ? this.colours.muted : this.colours.ink, size);
    }
  }
  drawPaths() {
    const { context, view } = this;
    const here = view.plan.paths.filter((path) => {
      const heights = path.points.map((point) => point[1]);
      return path.world === view.world && view.onFloor(Math.min(...heights), Math.max(...heights));
    });
    const all = (oneWay) => () => here.filter((path) => Boolean(path.oneWay) === oneWay).forEach((path) => this.trace(path.points.map(([x, , z]) => [x, z])));
    this.stroke(this.colours.muted, 1.2, [], all(false));
    this.stroke(this.colours.muted, 1.2, [6, 4], all(true));
    context.fillStyle = this.colours.ink;
    for (const path of here) {
      if (!path.gate) continue;
      const [left, top] = this.at(path.points[0][0], path.points[0][2]);
      context.fillRect(left - 3, top - 3, 6, 6);
    }
    context.beginPath();
    for (const [, world, [x, y, z]] of view.plan.waypoints) {
      if (world !== view.world || !view.onFloor(y, y)) continue;
      const [left, top] = this.at(x, z);
      context.moveTo(left + 2, top);
      context.arc(left, top, 2, 0, 2 * Math.PI);
    }
    context.fill();
  }
  /** Adds a trigger's shape, where it is on this map. */
  traceTrigger({ box, sphere, beyond }) {
    const { context, view } = this;
    if (box) {
      if (view.onFloor(box[1], box[2])) this.trace(box[0], true);
    } else if (sphere) {
      const [x, z, radius, low, high] = sphere;
      if (!view.onFloor(low, high)) return;
      const [left, top] = this.at(x, z);
      context.moveTo(left + radius * view.scale, top);
      context.arc(left, top, radius * view.scale, 0, 2 * Math.PI);
    } else if (beyond && beyond[0] !== 1) {
      const [axis, limit] = beyond;
      const [left, top] = this.at(limit, limit);
      if (axis === 0) { context.moveTo(left, 0); context.lineTo(left, this.height); }
      else { context.moveTo(0, top); context.lineTo(this.width, top); }
    }
  }
  drawTriggers(moment, flash) {
    const { context, view } = this;
    const here = view.plan.triggers.filter((trigger) => trigger.world === view.world);
    this.stroke(this.colours.good, 1, [4, 3], () => here.forEach((trigger) => this.traceTrigger(trigger)));
    for (const [number, at] of this.machine.fired) {
      const trigger = view.plan.triggers[number];
      if (at > moment || moment - at >= flash || trigger.world !== view.world) continue;
      this.stroke(this.colours.good, 3, [], () => this.traceTrigger(trigger));
      if (trigger.beyond) continue;
      context.globalAlpha = 0.25 + 0.6 * (1 - (moment - at) / flash);
      context.fillStyle = this.colours.good;
      context.fill(); // what was traced last
      context.globalAlpha = 1;
    }
  }
  colourOf(player) {
    const colours = this.view.plan.walkedColours;
    return colours[player % colours.length];
  }
  drawTrails(moment) {
    const { context, view } = this;
    context.lineWidth = 2;
    for (const player of this.machine.players) {
      const places = this.walk.players[player].places;
      context.strokeStyle = this.colourOf(player);
      context.globalAlpha = 0.6;
      context.beginPath();
      for (let i = 0; i + 1 < places.length && places[i][0] <= moment; ++i) {
        const [at, world, x, , z] = places[i];
        const [to, , endX, , endZ] = places[i + 1];
        if (world !== view.world || to - at < 2 || (x === endX && z === endZ)) continue; // placed elsewhere, or it stands
        const now = this.walk.placeOf(player, Math.min(moment, to));
        context.moveTo(...this.at(x, z));
        context.lineTo(...(to <= moment ? this.at(endX, endZ) : this.at(now.x, now.z)));
      }
      context.stroke();
      context.globalAlpha = 1;
    }
  }
  /** Dark where all players of the machine see a veil, or nothing. */
  drawVeil(moment) {
    const sights = this.machine.players.map((player) => this.machine.seenBy(player, moment));
    if (sights.length === 0 || !sights.every(([what]) => what === seen.veil || what === seen.black)) return;
    const { context } = this;
    context.globalAlpha = 0.62;
    context.fillStyle = this.colours.veil;
    context.fillRect(0, 0, this.width, this.height);
    context.globalAlpha = 1;
    const text = [...new Set(sights.map((sight) => sightOf(this.view.plan, sight)))].join('; ');
    if (this.claim(text, this.width / 2, 16, 14)) this.label(text, this.width / 2, 16, this.colours.ink, 14);
  }
  drawPlayers(moment) {
    const { context, view } = this;
    this.walk.players.forEach((player, number) => {
      const own = this.machine.players.includes(number);
      const place = this.walk.placeOf(number, moment);
      if (place.world !== view.world) return;
      const [left, top] = this.at(place.x, place.z);
      const what = own ? this.machine.seenBy(number, moment)[0] : -1;
      context.globalAlpha = own ? 1 : 0.4;
      context.beginPath();
      context.arc(left, top, 7, 0, 2 * Math.PI);
      context.fillStyle = this.colourOf(number);
      context.fill();
      context.lineWidth = 6;
      context.strokeStyle = this.colours.paper;
      context.stroke();
      context.fill();
      context.lineWidth = 2.5;
      context.strokeStyle = what === seen.gap ? this.colours.bad : what === seen.veil || what === seen.black ? this.colours.veil : this.colours.ink;
      context.stroke();
      context.globalAlpha = 1;
      if (this.claim(player.name, left, top + 16, 12)) this.label(player.name, left, top + 16, this.colours.ink, 12);
    });
  }
  drawScale() {
    const { context } = this;
    const wanted = 90 / this.view.scale;
    const power = Math.pow(10, Math.floor(Math.log10(wanted)));
    const length = [5, 2, 1].map((step) => step * power).find((step) => step <= wanted) || power;
    const width = length * this.view.scale;
    const top = this.height - 10;
    context.strokeStyle = this.colours.ink;
    context.lineWidth = 2;
    context.beginPath();
    context.moveTo(12, top - 4); context.lineTo(12, top); context.lineTo(12 + width, top); context.lineTo(12 + width, top - 4);
    context.stroke();
    this.label(length + ' m', 12 + width / 2, top - 10, this.colours.ink, 11);
  }
  /** What lies at a point of the canvas, in words; empty: nothing. */
  said(left, top, moment) {
    const { view } = this;
    const [x, z] = [(left - this.width / 2) / view.scale + view.x, (top - this.height / 2) / view.scale + view.z];
    const near = 6 / view.scale;
    for (const [number, player] of this.walk.players.entries()) {
      const place = this.walk.placeOf(number, moment);
      if (place.world === view.world && Math.hypot(place.x - x, place.z - z) < 2 * near) return 'player ' + player.name;
    }
    for (const [name, world, [atX, , atZ]] of view.plan.waypoints) {
      if (world === view.world && Math.hypot(atX - x, atZ - z) < near) return 'waypoint ' + name;
    }
    for (const trigger of view.plan.triggers) {
      if (trigger.world !== view.world) continue;
      if (trigger.box && view.onFloor(trigger.box[1], trigger.box[2]) && isInside(trigger.box[0], x, z)) return 'trigger ' + trigger.name;
      if (trigger.sphere && Math.hypot(trigger.sphere[0] - x, trigger.sphere[1] - z) < trigger.sphere[2]) return 'trigger ' + trigger.name;
    }
    const levels = [];
    view.plan.levels.forEach((level, number) => {
      if (level.world !== view.world) return;
      for (const [corners, low, high] of level.area || []) {
        if (!view.onFloor(low, high) || !isInside(corners, x, z)) continue;
        const [word] = view.plan.conditions[this.machine.conditionOf(number, moment)];
        levels.push(level.name + ': ' + word + (level.title ? '\n' + level.title : ''));
        return;
      }
    });
    return levels.join('\n');
  }
}

/** Whether a point lies in a convex outline. */
function isInside(corners, x, z) {
  let side = 0;
  for (let i = 0; i < corners.length; ++i) {
    const [ax, az] = corners[i];
    const [bx, bz] = corners[(i + 1) % corners.length];
    const turn = (bx - ax) * (z - az) - (bz - az) * (x - ax);
    if (turn === 0) continue;
    if (side !== 0 && (turn > 0) !== (side > 0)) return false;
    side = turn;
  }
  return true;
}
