'use strict';
// The data of the replay (src/report/replay.cpp says what is in it), and what it says of a moment.
// Times are microseconds, memory is bytes, places are metres.

/** What an element holds: JSON, compressed (RFC 1950) and in Base64. */
async function unpacked(element) {
  const bytes = Uint8Array.from(atob(element.textContent), (digit) => digit.charCodeAt(0));
  const stream = new Blob([bytes]).stream().pipeThrough(new DecompressionStream('deflate'));
  return JSON.parse(await new Response(stream).text());
}

/** Values from their differences. */
function summed(differences) {
  let sum = 0;
  return differences.map((difference) => sum += difference);
}

/** The number of the last of some rising times that is at or before a moment; -1: none is. */
function lastBy(length, timeOf, moment) {
  let low = 0;
  let high = length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (timeOf(middle) <= moment) low = middle + 1; else high = middle;
  }
  return low - 1;
}

const condition = { absent: 0, waiting: 1, reading: 2, unpacking: 3, making: 4, ready: 5, attaching: 6, shown: 7, leaving: 8 };
const isComing = (of) => (of >= condition.waiting && of <= condition.making) || of === condition.attaching;
const seen = { veil: 0, gap: 1, stalled: 2, level: 3, black: 4 };
const doings = ['moving', 'pausing', 'veiled', 'stalled'];

/** One machine of a walk: what it holds, reads and shows, and what its players see. */
class Machine {
  constructor(data, plan, end) {
    Object.assign(this, data);
    this.plan = plan;
    this.walkEnd = end;
    const memory = data.memory;
    this.times = summed(memory.times);
    this.totals = summed(memory.total);
    this.poolSizes = memory.pools.map(summed);
    this.bands = memory.bands.map((band) => ({ ...band, sizes: summed(band.sizes) }));
    this.stretchesOf = new Map(data.pieces.map(([piece, ...stretches]) => [piece, stretches]));
    this.players = data.seen.map((each) => each.player);
  }
  pieceName(piece) {
    const { levels, kits } = this.plan;
    return piece < levels.length ? levels[piece].name : kits[piece - levels.length];
  }
  /** What ends with the walk is still so at its end. */
  lasts(from, to, moment) {
    return from <= moment && (moment < to || (to === this.end && moment >= to && this.end === this.walkEnd));
  }
  stretchAt(piece, moment) {
    const stretches = this.stretchesOf.get(piece);
    if (!stretches) return null;
    const found = stretches[lastBy(stretches.length, (i) => stretches[i][1], moment)];
    return found && this.lasts(found[1], found[2], moment) ? found : null;
  }
  conditionOf(piece, moment) {
    const stretch = this.stretchAt(piece, moment);
    return stretch ? stretch[0] : condition.absent;
  }
  memoryAt(moment) {
    const at = Math.min(lastBy(this.times.length, (i) => this.times[i], moment), this.totals.length - 1);
    if (at < 0) return { total: 0, pools: this.poolSizes.map(() => 0) };
    return { total: this.totals[at], pools: this.poolSizes.map((sizes) => sizes[at]) };
  }
  /** What every frame takes: [since, work, stands still]; null: nothing is said of it. */
  frameAt(moment) {
    if (!this.frames) return null;
    return this.frames[lastBy(this.frames.length, (i) => this.frames[i][0], moment)] || null;
  }
  shownAt(moment) {
    return [...this.stretchesOf.keys()].filter((piece) =>
      piece < this.plan.levels.length && this.conditionOf(piece, moment) === condition.shown);
  }
  /** What is on its way, soonest first: {piece, condition, left, to}. */
  comingAt(moment) {
    const coming = [];
    for (const [piece, stretches] of this.stretchesOf) {
      const number = lastBy(stretches.length, (i) => stretches[i][1], moment);
      const now = stretches[number];
      if (!now || !this.lasts(now[1], now[2], moment) || !isComing(now[0])) continue;
      let last = number;
      while (last + 1 < stretches.length && stretches[last + 1][1] === stretches[last][2] && stretches[last][0] !== condition.shown
        && (isComing(stretches[last + 1][0]) || stretches[last + 1][0] === condition.ready || stretches[last + 1][0] === condition.shown)) ++last;
      const comes = stretches[last][0] === condition.shown || stretches[last][0] === condition.ready;
      coming.push({ piece, condition: now[0], to: comes ? stretches[last][0] : condition.absent,
        left: (comes ? stretches[last][1] : stretches[last][2]) - moment });
    }
    return coming.sort((one, other) => one.left - other.left || one.piece - other.piece);
  }
  /** What a player sees: [what, veil or level, since]. */
  seenBy(player, moment) {
    const of = this.seen.find((each) => each.player === player);
    if (!of) return [seen.black, -1, 0];
    return of.seen[Math.max(0, lastBy(of.seen.length, (i) => of.seen[i][2], moment))];
  }
  veilsOf(player, moment) {
    return this.veiled.filter((each) => each[0] === player && this.lasts(each[2], each[3], moment)).map((each) => each[1]);
  }
  gapsAt(moment) {
    return this.gaps.filter((each) => this.lasts(each[2], each[3], moment));
  }
  doingOf(player, moment) {
    const spell = this.spells.find((each) => each[0] === player && this.lasts(each[2], each[3], moment));
    return spell ? doings[spell[1]] : '';
  }
  /** The number in the list of the transition that fired last; -1: none has. */
  transitionAt(moment) {
    return lastBy(this.transitions.length, (i) => this.transitions[i][1], moment);
  }
}

/** A route on its machines. */
class Walk {
  constructor(data, plan) {
    this.route = data.route;
    this.end = data.end;
    this.players = data.players;
    this.machines = data.machines.map((machine) => new Machine(machine, plan, data.end));
  }
  /** Where a player is: {world, x, y, z}; world -1: nowhere. */
  placeOf(player, moment) {
    const places = this.players[player].places;
    const at = Math.max(0, lastBy(places.length, (i) => places[i][0], moment));
    const [since, world, x, y, z] = places[at];
    const next = places[at + 1];
    if (!next || next[0] <= since) return { world, x, y, z };
    const share = Math.max(0, moment - since) / (next[0] - since);
    return { world, x: x + (next[2] - x) * share, y: y + (next[3] - y) * share, z: z + (next[4] - z) * share };
  }
}

// --- as people read it --------------------------------------------------------

const seconds = (time) => (time / 1e6).toFixed(2);
const grouped = new Intl.NumberFormat('en-US', { maximumFractionDigits: 2 });
const mebibytes = (bytes) => grouped.format(bytes / 1048576);
function duration(time) {
  const size = Math.abs(time);
  if (size >= 1e6) return seconds(time) + ' s';
  return size >= 1e3 ? Math.round(time / 1e3) + ' ms' : time + ' µs';
}

/** What a player sees, in words. */
function sightOf(plan, [what, subject]) {
  const level = subject >= 0 && what !== seen.veil ? plan.levels[subject].name : '';
  switch (what) {
    case seen.veil: return 'behind veil ' + plan.veils[subject];
    case seen.gap: return 'gap: ' + level + ' is missing';
    case seen.stalled: return (level ? 'sees ' + level : 'sees nothing') + ", can't go on";
    case seen.level: return 'sees ' + level;
    default: return 'black';
  }
}
