// While the loops are compiled: asks how far it is, and opens the page when Kessel itself answers.
const words = document.getElementById("words");
const progress = document.getElementById("progress");

async function ask() {
  try {
    const answer = await fetch("/waiting/progress", { cache: "no-store" });
    if (!answer.ok) return location.reload();
    const told = await answer.json();
    progress.max = told.of;
    progress.value = told.done;
    words.textContent = told.words;
  } catch {
    words.textContent = "no answer: is Kessel still running?";
  }
  return setTimeout(ask, 700);
}

ask();
