// Strips over time, below the map: what players see, memory, frames, loads. Each is drawn once; a
// cursor moves over it.

class Strips {
  constructor(canvas, walk, machine, end) {
    this.canvas = canvas;
    this.walk = walk;
    this.machine = machine;
    this.end = Math.max(end, 1);
    this.plan = machine.plan;
  }
  static rowHeight = 14;
  static stripHeight = 22;
  static memoryHeight = 130;
  static framesHeight = 56;
  static gap = 18;

  height() {
    const { machine } = this;
    let height = Strips.gap + machine.players.length * (Strips.stripHeight + 4);
    height += Strips.gap + Strips.memoryHeight;
    if (machine.frames) height += Strips.gap + Strips.framesHeight;
    return height + Strips.gap + machine.rows.length * Strips.rowHeight + 24;
  }
  x(moment) { return this.left + (this.right - this.left) * moment / this.end; }
  momentAt(x) {
    return Math.round(Math.min(Math.max((x - this.left) / (this.right - this.left), 0), 1) * this.end);
  }
  text(text, left, top, colour, align = 'left', size = 11) {
    const { context } = this;
    context.font = size + 'px ' + this.font;
    context.textAlign = align;
    context.textBaseline = 'middle';
    context.fillStyle = colour;
    context.fillText(text, left, top);
  }
  /** As much of a text as there is room for; nothing where one could not tell what it was. */
  shortened(text, room) {
    const { context } = this;
    context.font = '11px ' + this.font;
    if (context.measureText(text).width <= room) return text;
    let short = text;
    while (short.length > 1 && context.measureText(short + '…').width > room) short = short.slice(0, -1);
    return short.length > 2 ? short + '…' : '';
  }
  draw() {
    const width = this.canvas.clientWidth;
    const height = this.height();
    this.canvas.style.height = height + 'px';
    const context = this.context = sized(this.canvas, width, height);
    this.font = getComputedStyle(document.body).fontFamily;
    this.colours = Object.fromEntries(['paper', 'ink', 'muted', 'faint', 'line', 'bad', 'veil', 'veiled', 'stall', 'black', 'seen'].map((name) => [name, pageColour(name)]));
    this.left = Math.min(170, width * 0.22);
    this.right = width - 10;
    this.spots = []; // what is said where: [left, top, right, bottom, text, moment]
    context.fillStyle = this.colours.paper;
    context.fillRect(0, 0, width, height);
    let top = Strips.gap;
    this.drawGrid(top, height - 22);
    top = this.drawSeen(top);
    top = this.drawMemory(top + Strips.gap);
    if (this.machine.frames) top = this.drawFrames(top + Strips.gap);
    this.drawLoads(top + Strips.gap);
  }
  drawGrid(top, bottom) {
    const { context } = this;
    const wanted = this.end / 1e6 / Math.max(2, Math.floor((this.right - this.left) / 80));
    const power = Math.pow(10, Math.floor(Math.log10(wanted)));
    const step = [1, 2, 5, 10].map((each) => each * power).find((each) => each >= wanted);
    context.lineWidth = 1;
    for (let i = 0; i * step <= this.end / 1e6 * (1 + 1e-9); ++i) {
      const x = Math.round(this.x(i * step * 1e6)) + 0.5;
      context.strokeStyle = this.colours.faint;
      context.beginPath(); context.moveTo(x, top); context.lineTo(x, bottom); context.stroke();
      this.text(String(Number((i * step).toPrecision(6))), x, bottom + 10, this.colours.ink, 'center');
    }
    this.text('time (s)', this.left - 8, bottom + 10, this.colours.muted, 'right');
  }
  bar(from, to, top, height, colour, said) {
    const left = this.x(from);
    const right = Math.max(this.x(to), left + 0.8);
    this.context.fillStyle = colour;
    this.context.fillRect(left, top, right - left, height);
    this.spots.push([left - 1, top, right + 1, top + height, said + '\n' + seconds(from) + ' to ' + seconds(to) + ' s (' + duration(to - from) + ')', from]);
  }
  drawSeen(top) {
    const { machine, plan } = this;
    this.text('what players see', this.left, top - 9, this.colours.muted);
    const colours = [this.colours.veiled, this.colours.bad, this.colours.stall, this.colours.seen, this.colours.black];
    for (const { player, seen: stretches } of machine.seen) {
      this.text(this.shortened(this.walk.players[player].name, this.left - 14), this.left - 8, top + Strips.stripHeight / 2, this.colours.ink, 'right');
      stretches.forEach((sight, i) => {
        const to = i + 1 < stretches.length ? stretches[i + 1][2] : machine.end;
        this.bar(sight[2], to, top, Strips.stripHeight, colours[sight[0]], sightOf(plan, sight));
        const room = this.x(to) - this.x(sight[2]) - 6;
        const name = sight[0] === seen.veil ? plan.veils[sight[1]] : sight[1] >= 0 ? plan.levels[sight[1]].name : 'black';
        const dark = sight[0] === seen.gap || sight[0] === seen.black;
        if (room > 18) this.text(this.shortened(name, room), this.x(sight[2]) + 3, top + Strips.stripHeight / 2, dark ? '#ffffff' : '#202020');
      });
      top += Strips.stripHeight + 4;
    }
    return top;
  }
  drawMemory(top) {
    const { machine, context } = this;
    const bottom = top + Strips.memoryHeight;
    const most = Math.max(machine.budget, machine.peak[0], 1) * 1.06;
    const y = (bytes) => bottom - (bottom - top) * bytes / most;
    this.text('memory (MiB)', this.left, top - 9, this.colours.muted);
    const below = machine.times.map(() => 0);
    for (const band of machine.bands) {
      context.fillStyle = band.colour;
      context.beginPath();
      const edge = below.map((sum, i) => sum + (band.sizes[i] || 0));
      machine.times.forEach((at, i) => {
        const x = this.x(at);
        if (i === 0) context.moveTo(x, y(edge[0])); else { context.lineTo(x, y(edge[i - 1])); context.lineTo(x, y(edge[i])); }
      });
      for (let i = below.length - 1; i >= 0; --i) {
        const x = this.x(machine.times[i]);
        context.lineTo(x, y(below[i]));
        if (i > 0) context.lineTo(x, y(below[i - 1]));
      }
      context.fill();
      edge.forEach((sum, i) => { below[i] = sum; });
    }
    context.strokeStyle = this.colours.ink;
    context.lineWidth = 2;
    context.setLineDash([6, 4]);
    context.beginPath(); context.moveTo(this.left, y(machine.budget)); context.lineTo(this.right, y(machine.budget)); context.stroke();
    context.setLineDash([]);
    this.text('budget ' + mebibytes(machine.budget), this.left - 8, y(machine.budget), this.colours.ink, 'right');
    this.text('0', this.left - 8, bottom, this.colours.ink, 'right');
    this.memory = { top, bottom };
    return bottom;
  }
  drawFrames(top) {
    const { machine, context } = this;
    const bottom = top + Strips.framesHeight;
    const most = Math.max(machine.longestFrame, ...machine.frames.map((frame) => frame[1])) * 1.1;
    const y = (work) => bottom - (bottom - top) * work / most;
    this.text('frame (ms)', this.left, top - 9, this.colours.muted);
    machine.frames.forEach(([at, work], i) => {
      const to = i + 1 < machine.frames.length ? machine.frames[i + 1][0] : machine.end;
      context.fillStyle = work > machine.longestFrame ? this.colours.bad : this.plan.conditions[condition.ready][1];
      context.fillRect(this.x(at), y(work), Math.max(this.x(to) - this.x(at), 0.8), bottom - y(work));
    });
    context.strokeStyle = this.colours.ink;
    context.setLineDash([6, 4]);
    context.lineWidth = 2;
    context.beginPath(); context.moveTo(this.left, y(machine.longestFrame)); context.lineTo(this.right, y(machine.longestFrame)); context.stroke();
    context.setLineDash([]);
    this.text('at most ' + (machine.longestFrame / 1000).toFixed(1), this.left - 8, y(machine.longestFrame), this.colours.ink, 'right');
    this.frames = { top, bottom };
    return bottom;
  }
  drawLoads(top) {
    const { machine, plan } = this;
    this.text('loads', this.left, top - 9, this.colours.muted);
    for (const [name, piece, ...others] of machine.rows) {
      this.text(this.shortened(name, this.left - 14), this.left - 8, top + Strips.rowHeight / 2, this.colours.ink, 'right');
      const alone = piece >= 0;
      for (const [now, from, to] of alone ? machine.stretchesOf.get(piece) || [] : others) {
        const [word, colour] = plan.conditions[now];
        this.bar(from, to, top + 2, Strips.rowHeight - 4, colour, name + ': ' + (alone ? word : now === condition.shown ? 'some shown' : 'some on their way'));
      }
      if (alone) for (const [, level, from, to] of machine.gaps) {
        if (level === piece) this.bar(from, to, top + 1, Strips.rowHeight - 2, this.colours.bad, name + ': gap');
      }
      top += Strips.rowHeight;
    }
    return top;
  }
  /** What is said of a point, and the moment that a press there goes to. */
  spotAt(left, top) {
    for (let i = this.spots.length - 1; i >= 0; --i) {
      const [from, high, to, low, text, moment] = this.spots[i];
      if (from <= left && left <= to && high <= top && top <= low) return { text, moment };
    }
    const moment = this.momentAt(left);
    if (this.memory && this.memory.top <= top && top <= this.memory.bottom) {
      const { machine } = this;
      const at = Math.max(0, lastBy(machine.times.length, (i) => machine.times[i], moment));
      const parts = machine.bands.filter((band) => band.sizes[at] > 0).map((band) => band.name + ': ' + mebibytes(band.sizes[at]) + ' MiB').reverse();
      return { text: seconds(moment) + ' s: ' + mebibytes(machine.memoryAt(moment).total) + ' of ' + mebibytes(machine.budget) + ' MiB\n' + parts.join('\n'), moment };
    }
    if (this.frames && this.frames.top <= top && top <= this.frames.bottom) {
      const frame = this.machine.frameAt(moment);
      if (frame) return { text: seconds(moment) + ' s: ' + (frame[1] / 1000).toFixed(2) + ' ms', moment };
    }
    return { text: '', moment };
  }
}
