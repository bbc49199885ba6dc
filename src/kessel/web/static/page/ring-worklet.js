// Plays quanta in the order they come. When none is there it fades out, counts an underrun, and waits for the lead that
// the newest quantum names.
const SHOWN = 1024;

class Ring extends AudioWorkletProcessor {
  constructor() {
    super();
    this.queue = [];
    this.at = 0;
    this.heard = 0;
    this.told = 0;
    this.under = 0;
    this.dry = true;
    this.last = [0, 0];
    this.gain = 0;
    this.reserve = 1e6;
    this.peak = 0;
    this.shown = { at: 0, under: 0 };
    this.port.onmessage = ({ data }) => {
      this.pipe = data.pipe;
      this.pipe.onmessage = ({ data: message }) => {
        if (message.again) { this.queue.length = 0; this.at = 0; this.heard = this.told = this.under = this.shown.under = 0; this.dry = true; return; }
        this.queue.push(new Float32Array(message.sound));
      };
    };
  }

  // Frames that wait.
  queued() { return this.queue.reduce((sum, one) => sum + (one.length - 4) / 2, -this.at); }

  process(inputs, outputs) {
    const [left, right] = outputs[0];
    let peak = 0;
    for (let i = 0; i < left.length; i++) {
      if (this.queue.length === 0 || (this.dry && this.queued() < this.queue.at(-1)[3])) {
        if (!this.dry) { this.dry = true; this.under += 1; this.gain = 0; }
        this.last[0] *= 0.98;
        this.last[1] *= 0.98;
        left[i] = this.last[0];
        right[i] = this.last[1];
        continue;
      }
      this.dry = false;
      const quantum = this.queue[0];
      const n = (quantum.length - 4) / 2;
      // after a gap the sound comes back over 5 ms
      if (this.gain < 1) this.gain = Math.min(1, this.gain + 1 / 240);
      let l = quantum[4 + this.at] * this.gain;
      let r = quantum[4 + n + this.at] * this.gain;
      peak = Math.max(peak, Math.abs(l), Math.abs(r));
      l = Math.min(Math.max(l, -1), 1);
      r = Math.min(Math.max(r, -1), 1);
      this.last[0] = left[i] = l;
      this.last[1] = right[i] = r;
      if (++this.at >= n) {
        this.at = 0;
        this.heard += n;
        this.queue.shift();
      }
    }
    if (!this.dry) this.reserve = Math.min(this.reserve, this.queued());
    const now = this.heard + this.at;
    if (this.pipe && now - this.told >= 512) {
      this.told = now;
      this.pipe.postMessage({ frames: now, under: this.under, reserve: this.reserve });
      this.reserve = 1e6;
    }
    // what is drawn is told as often as it can be drawn
    this.peak = Math.max(this.peak, peak);
    if (currentFrame - this.shown.at >= SHOWN || this.under !== this.shown.under) {
      const quantum = this.dry ? null : this.queue[0];
      this.port.postMessage({ beat: quantum ? quantum[0] : -1, peak: this.peak, under: this.under });
      this.shown = { at: currentFrame, under: this.under };
      this.peak = 0;
    }
    return true;
  }
}
registerProcessor("ring", Ring);
