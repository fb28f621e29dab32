/** What of the level is seen: its middle, in the level's own axes, and pixels per unit. */
export class Camera {
  x = 0;
  y = 0;
  scale = 40;
  follow = true;
  width = 1;
  height = 1;
  /** 1 where y points down. */
  down = 1;

  at(x: number, y: number): [number, number] {
    return [this.width / 2 + (x - this.x) * this.scale, this.height / 2 + (y - this.y) * this.scale * this.down];
  }

  /** The place of the level under a pixel. */
  under(px: number, py: number): [number, number] {
    return [this.x + (px - this.width / 2) / this.scale, this.y + ((py - this.height / 2) / this.scale) * this.down];
  }

  zoom(factor: number, px = this.width / 2, py = this.height / 2): void {
    const [x, y] = this.under(px, py);
    this.scale = Math.min(Math.max(this.scale * factor, 1e-4), 1e5);
    const [nx, ny] = this.under(px, py);
    this.x += x - nx;
    this.y += y - ny;
  }

  pan(dx: number, dy: number): void {
    this.follow = false;
    this.x -= dx / this.scale;
    this.y -= (dy / this.scale) * this.down;
  }

  /** Goes along with what is to stay in sight. */
  keep(x: number, y: number): void {
    if (!this.follow) return;
    const [w, h] = [(0.18 * this.width) / this.scale, (0.2 * this.height) / this.scale];
    this.x = Math.min(Math.max(this.x, x - w), x + w);
    this.y = Math.min(Math.max(this.y, y - h), y + h);
  }

  show(x1: number, y1: number, x2: number, y2: number): void {
    this.follow = false;
    this.x = (x1 + x2) / 2;
    this.y = (y1 + y2) / 2;
    this.scale = Math.min(this.width / Math.max(x2 - x1, 1e-9), this.height / Math.max(y2 - y1, 1e-9)) * 0.96;
  }
}
