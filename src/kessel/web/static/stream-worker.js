// Holds the socket; sound goes straight on to the audio worklet, words to the page.
let socket = null;
let pipe = null;
let address = "";
let tries = 0;
const early = [];
let on = null;

function open() {
  socket = new WebSocket(address);
  socket.binaryType = "arraybuffer";
  socket.onopen = () => {
    tries = 0;
    if (on && early.indexOf(on) < 0) { pipe?.postMessage({ again: true }); socket.send(JSON.stringify(on)); }
    for (const message of early.splice(0)) socket.send(JSON.stringify(message));
  };
  socket.onmessage = ({ data }) => {
    if (typeof data === "string") postMessage(JSON.parse(data));
    else pipe?.postMessage({ sound: data }, [data]);
  };
  socket.onclose = () => {
    postMessage({ say: "closed", mode: "off" });
    if (tries++ < 40) setTimeout(open, Math.min(250 * tries, 3000));
  };
}

function tell(message) {
  if (message.do === "on") on = message;
  if (socket && socket.readyState === WebSocket.OPEN) socket.send(JSON.stringify(message));
  else if (message.do !== "heard" && message.do !== "turn") early.push(message);
}

onmessage = ({ data }) => {
  if (data.open) { address = data.open; open(); }
  if (data.tell) tell(data.tell);
  if (data.pipe) {
    pipe = data.pipe;
    pipe.onmessage = ({ data: heard }) => tell({ do: "heard", ...heard });
  }
};
