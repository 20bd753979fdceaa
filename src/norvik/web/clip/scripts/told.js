// The message in the corner of the film.

/** How long a message stays. What went wrong stays until the next one. */
const TOLD_MS = 9000;

export class Told {
  /** place(): the element in which it is shown. */
  constructor(place) {
    this.place = place;
    this.tell = this.tell.bind(this);
  }

  tell(sentence, bad = false) {
    // An answer of the server may have brought a new one.
    const place = this.place();
    place.textContent = sentence;
    place.classList.toggle("text-caution-light", bad);
    clearTimeout(this.fading);
    if (bad) return;
    this.fading = setTimeout(() => place.textContent === sentence && place.replaceChildren(), TOLD_MS);
  }
}
