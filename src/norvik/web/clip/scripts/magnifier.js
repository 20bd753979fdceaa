// A round glass beside the pointer while a point is set: a finger hides what it points at.

const SIDE = 152;
const CLOSER = 3;

export class Magnifier {
  /** surface: what it lies over; stage: whose picture it shows. */
  constructor(surface, stage) {
    this.surface = surface;
    this.stage = stage;
    this.glass = document.createElement("canvas");
    this.glass.className = "magnifier";
    this.glass.hidden = true;
    this.glass.setAttribute("aria-hidden", "true");
    this.glass.width = this.glass.height = SIDE;
    surface.append(this.glass);
  }

  /** place: source pixels; size: of the source; at: where the pointer is, in client pixels. */
  show([x, y], [width, height], { clientX, clientY }) {
    const { picture } = this.stage;
    const wide = picture.videoWidth ?? picture.width;
    const high = picture.videoHeight ?? picture.height;
    const shown = this.surface.getBoundingClientRect();
    // So large that the glass shows CLOSER times what the stage does.
    const scale = Math.min(shown.width / wide, shown.height / high) * CLOSER;
    const side = SIDE / scale;
    const context = this.glass.getContext("2d");
    context.fillStyle = "#061a1f";
    context.fillRect(0, 0, SIDE, SIDE);
    context.drawImage(
      picture,
      (x / width) * wide - side / 2,
      (y / height) * high - side / 2,
      side,
      side,
      0,
      0,
      SIDE,
      SIDE,
    );
    context.strokeStyle = "#f4ae1f";
    context.lineWidth = 1.5;
    context.beginPath();
    for (const [ax, ay, bx, by] of [
      [-30, 0, -6, 0],
      [6, 0, 30, 0],
      [0, -30, 0, -6],
      [0, 6, 0, 30],
    ]) {
      context.moveTo(SIDE / 2 + ax, SIDE / 2 + ay);
      context.lineTo(SIDE / 2 + bx, SIDE / 2 + by);
    }
    context.stroke();
    const left = Math.min(shown.width - SIDE, Math.max(0, clientX - shown.left - SIDE / 2));
    const above = clientY - shown.top - SIDE - 36;
    this.glass.style.left = `${left}px`;
    this.glass.style.top = `${above >= 0 ? above : clientY - shown.top + 36}px`;
    this.glass.hidden = false;
  }

  hide() {
    this.glass.hidden = true;
  }
}
