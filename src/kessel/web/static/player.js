// The one player: a worker holds the socket, an audio worklet plays what comes, and the page is not in between.
export class Player {
  constructor(slug) {
    this.slug = slug;
    this.playing = false;
    this.context = null;
    this.beat = -1;
    this.peak = 0;
    this.state = { mode: "off", lead_ms: 0, underruns: 0 };
    this.onValue = this.onProblem = this.onState = this.onStopped = this.onTurn = this.onEdited = this.onRecording = this.onCurve = this.onFrame = this.onHeard = () => {};
    this.worker = new Worker("/static/stream-worker.js");
    const scheme = location.protocol === "https:" ? "wss" : "ws";
    this.worker.postMessage({ open: `${scheme}://${location.host}/patch/${slug}/live` });
    this.worker.onmessage = ({ data }) => this.#hear(data);
  }

  #hear(message) {
    if (message.say === "value") this.onValue(message);
    else if (message.say === "problem") this.onProblem(message);
    else if (message.say === "curve") this.onCurve(message);
    else if (message.say === "edited") this.onEdited(message);
    else if (message.say === "recording") this.onRecording(message.on);
    else if (message.say === "stopped") { this.playing = false; this.onStopped(); }
    else if (message.say === "state" || message.say === "closed") { this.state = { ...this.state, ...message }; this.onState(this.state); }
  }

  send(message) {
    if (message.do === "turn") this.onTurn(message.path, message.at !== undefined ? { at: message.at } : message.steps !== undefined ? { steps: message.steps } : {});
    this.worker.postMessage({ tell: message });
  }

  // Sound starts with the first gesture, as browsers ask.
  async start() {
    if (this.context) { await this.context.resume(); return; }
    this.context = new AudioContext({ sampleRate: 48000, latencyHint: "interactive" });
    await this.context.audioWorklet.addModule("/static/ring-worklet.js");
    this.node = new AudioWorkletNode(this.context, "ring", { numberOfInputs: 0, outputChannelCount: [2] });
    this.gain = new GainNode(this.context, { gain: this.volume ?? 10 ** (-9 / 20) });
    this.analyser = new AnalyserNode(this.context, { fftSize: 8192, smoothingTimeConstant: 0 });
    this.node.connect(this.analyser);
    this.node.connect(this.gain).connect(this.context.destination);
    const pipe = new MessageChannel();
    this.node.port.onmessage = ({ data }) => { this.beat = data.beat; this.peak = Math.max(this.peak, data.peak); this.under = data.under; this.onHeard(); };
    this.node.port.postMessage({ pipe: pipe.port1 }, [pipe.port1]);
    this.worker.postMessage({ pipe: pipe.port2 }, [pipe.port2]);
    this.send({ do: "on" });
    await this.context.resume();
  }

  async play() { await this.start(); this.playing = true; this.send({ do: "play" }); }

  stop() { this.playing = false; this.send({ do: "stop" }); }

  async note(pitch, on, velocity = 100) { await this.start(); this.send({ do: "note", pitch, on, velocity }); }

  // What a MIDI device sends; sound starts with a gesture.
  async midi(bytes) { await this.start(); this.send({ do: "midi", bytes }); }

  setVolume(db) {
    this.volume = db <= -48 ? 0 : 10 ** (db / 20);
    if (this.gain) this.gain.gain.setTargetAtTime(this.volume, this.context.currentTime, 0.01);
  }
}
