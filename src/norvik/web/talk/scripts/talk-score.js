// The score of a talk, read as the server reads it: what is seen at any of its milliseconds.

const empty = () => ({ layout: "beside", films: [], blend: 0.5, spot: null, speed: 0.25, playing: false });

/** What is seen once a deed was done; changes `seen`. */
function after(seen, [, kind, ...v]) {
  if (kind === "stage") {
    seen.layout = v[0];
    seen.films = v[1].map((film) => ({ ...film, frame: 0, place: null, ink: [] }));
    seen.spot = null;
  } else if (kind === "blend") [seen.blend] = v;
  else if (kind === "speed") {
    [seen.speed] = v;
    seen.playing = Boolean(v[1]);
  } else if (kind === "spot") seen.spot = v[0] < 0 ? null : v;
  else if (["frame", "place", "ink"].includes(kind) && seen.films[v[0]]) [, seen.films[v[0]][kind]] = v;
  return seen;
}

export class Score {
  constructor({ length, pieces, deeds, inks, chapters, captions }) {
    this.length = length;
    this.inks = inks;
    this.chapters = chapters;
    this.captions = captions;
    this.pieces = pieces.map(([take, from, to, at]) => ({ take, from, to, at, end: at + to - from }));
    this.deeds = deeds;
    this.cursor = null;
  }

  pieceAt(ms) {
    const n = this.pieces.findIndex(({ end }) => ms < end);
    return n < 0 ? this.pieces.length - 1 : n;
  }

  /** What is seen at ms. Instants that grow are cheap. Not to be changed. */
  at(ms) {
    const n = this.pieceAt(ms);
    if (n < 0) return empty();
    const piece = this.pieces[n];
    const take = Math.min(piece.to, piece.from + Math.max(0, ms - piece.at));
    if (!this.cursor || this.cursor.n !== n || this.cursor.at > take) {
      this.cursor = { n, at: -1, deed: 0, seen: empty() };
    }
    const { cursor } = this;
    const deeds = this.deeds[piece.take];
    while (cursor.deed < deeds.length && deeds[cursor.deed][0] <= take) {
      after(cursor.seen, deeds[cursor.deed]);
      cursor.deed += 1;
    }
    cursor.at = take;
    return cursor.seen;
  }

  wordsAt(list, ms) {
    return list.find(([from, to]) => from <= ms && ms < to)?.[2] ?? "";
  }
}
