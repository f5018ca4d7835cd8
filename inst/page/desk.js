// The desk: sends what is done to the program that serves this page and puts the parts that come back in their places.
// It works out no figure and decides nothing: the program knows what is asked for, this page only shows it.
(function () {
  "use strict";

  const words = JSON.parse(document.getElementById("page-words").textContent).desk;
  const get = (selector, within) => (within || document).querySelector(selector);
  const all = (selector, within) => [...(within || document).querySelectorAll(selector)];
  const part = (name) => document.getElementById("part-" + name);
  const filled = (text, values) => text.replace(/\{(\w+)\}/g, (found, name) => values[name]);

  // A window keeps its work when it is loaded anew; another window has another.
  const name = sessionStorage.getItem("window") || [...crypto.getRandomValues(new Uint8Array(10))]
    .map((byte) => byte.toString(16).padStart(2, "0")).join("");
  sessionStorage.setItem("window", name);
  // two windows of one name (a tab that was duplicated) would share a work: the younger takes another
  const channel = new BroadcastChannel("desk");
  let own = name;
  channel.onmessage = function (event) {
    if (event.data.asks === own) channel.postMessage({ taken: own });
    if (event.data.taken === own && !settled) { own = own + "b"; sessionStorage.setItem("window", own); }
  };
  let settled = false;
  channel.postMessage({ asks: own });

  const have = {};
  let known = { names: [], titles: [], answers: {} };
  let target = null;
  let pictures = {};

  // ---- to and fro ----

  async function post(where, body) {
    const answer = await fetch(where, {
      method: "POST", headers: { "Content-Type": "application/json" },
      body: JSON.stringify(Object.assign({ window: own, turn: turns }, body))
    });
    if (!answer.ok) throw new Error(answer.status);
    return answer;
  }

  function lost(is) { get("#lost").hidden = !is; }

  const openParts = () => all("details[data-open]").filter((one) => one.open).map((one) => one.dataset.open);

  // Acts go one after the other, so that each begins with what the one before has left. What is still being
  // asked of a database is given up for the next act, and comes back as overtaken.
  let last = Promise.resolve(), turns = 0, waitedFor = 0;
  function act(what, extra, place) {
    if (waitedFor || asking) post("overtake", {}).catch(() => {});
    const turn = turns += 1;
    waitedFor += 1;
    last = last.then(() => acted(what, extra, place, turn)).finally(() => { waitedFor -= 1; });
    return last;
  }

  async function acted(what, extra, place, turn) {
    document.body.setAttribute("aria-busy", "true");
    try {
      const answer = await (await post("do", { turn: turn, act: what, with: extra, have: have, open: openParts() })).json();
      lost(false);
      if (answer.fault) { faulty(place, answer.fault); return false; }
      if (answer.overtaken) return true;
      all(".fault:not(#lost)").forEach((one) => one.replaceChildren());
      shown(answer);
      return true;
    } catch (error) {
      lost(true);
      return false;
    } finally {
      document.body.removeAttribute("aria-busy");
    }
  }

  function faulty(place, text) {
    const box = document.getElementById(place ? "fault-" + place : "fault");
    box.innerHTML = text;
    box.scrollIntoView({ block: "nearest" });
  }

  function shown(answer) {
    const focused = document.activeElement && document.activeElement.closest("[data-key]");
    const key = focused && focused.dataset.key;
    const open = new Set(openParts());
    const scroll = part("questions").scrollTop;
    for (const one of Object.keys(answer.parts)) {
      if (one === "known") { known = answer.parts.known; continue; }
      part(one).innerHTML = answer.parts[one];
    }
    Object.assign(have, answer.marks);
    all("details[data-open]").forEach(function (one) {
      if (open.has(one.dataset.open) && !one.open) { quiet.add(one); one.open = true; }
    });
    if (answer.parts.questions !== undefined) { pictures = {}; round += 1; listed(scroll); }
    if (answer.parts.questions !== undefined || answer.parts.brief !== undefined) stands();
    if (answer.parts.table !== undefined) all(".sheet", part("table")).forEach(function (sheet) {
      if (get("script.model", sheet)) window.livelyTable(sheet, true);
    });
    if (answer.parts.figure !== undefined) pictured();
    if (key) {
      const again = get('[data-key="' + CSS.escape(key) + '"]');
      if (again && !again.disabled) again.focus({ preventScroll: true });
      else if (!get("#editor").open) part("brief").querySelector("button").focus({ preventScroll: true });
    }
    if (answer.said) get("#said").textContent = answer.said;
  }

  // A figure that the program draws follows its table.
  async function pictured() {
    const box = get("[data-picture]");
    if (!box) return;
    const kind = box.dataset.picture;
    const answer = await (await post("figure", { figure: kind })).json();
    if (!box.isConnected) return;
    if (answer.fault) { box.innerHTML = '<p class="hint">' + answer.fault + "</p>"; return; }
    if (answer.overtaken) return; // the act that came brings another
    const image = document.createElement("img");
    image.alt = answer.alt;
    image.src = "data:image/svg+xml;base64," + answer.svg;
    box.replaceChildren(image);
  }

  // ---- the list of questions ----

  const items = () => all("li[data-question]", part("questions"));
  const seen = () => items().filter((item) => !item.hidden);
  let chosen = null;

  function listed(scroll) {
    search();
    part("questions").scrollTop = scroll;
    const again = chosen && items().find((item) => item.dataset.question === chosen);
    choose(again || null);
    items().forEach((item) => watch.observe(item));
  }

  // Questions that stand in the sentence are seen as such in the list.
  function stands() {
    const standing = new Set(all(".chip").map((chip) => chip.dataset.question));
    items().forEach((item) => item.classList.toggle("stands", standing.has(item.dataset.question)));
  }

  // Pictures are asked for when a question comes into view.
  let wanted = new Set(), asking = false, round = 0;
  const watch = new IntersectionObserver(function (found) {
    for (const one of found) {
      if (!one.isIntersecting) continue;
      watch.unobserve(one.target);
      const question = one.target.dataset.question;
      if (pictures[question]) paint(one.target, pictures[question]); else wanted.add(question);
    }
    ask();
  });

  async function ask() {
    if (asking || !wanted.size) return;
    asking = true;
    const asked = round; // what comes back for questions as they were before is let go
    const names = [...wanted].slice(0, 8);
    names.forEach((one) => wanted.delete(one));
    try {
      const found = await (await post("pictures", { names: names })).json();
      if (found.overtaken) names.forEach((one) => wanted.add(one));
      else if (asked === round) {
        Object.assign(pictures, found);
        items().forEach((item) => { if (found[item.dataset.question]) paint(item, found[item.dataset.question]); });
      }
    } catch (error) { lost(true); }
    asking = false;
    ask();
  }

  function paint(item, picture) {
    get(".base", item).textContent = picture.n;
    if (picture.range) get(".name", item).nextSibling.nodeValue = " " + picture.range; // in place of the word "number"
    const most = Math.max(...picture.shares, 0);
    const shares = picture.shares.slice(0, 12);
    get(".bars", item).replaceChildren(...shares.map(function (share) {
      const bar = document.createElement("i");
      bar.style.height = Math.max(6, 100 * share / most) + "%";
      return bar;
    }));
  }

  function search() {
    const asked = get("#find").value.trim().toLowerCase();
    items().forEach(function (item) {
      const text = (item.dataset.question + " " + get(".title", item).textContent).toLowerCase();
      item.hidden = !asked.split(/\s+/).every((word) => text.includes(word));
    });
    get("#none-found").hidden = seen().length > 0;
  }

  function choose(item) {
    items().forEach((one) => one.setAttribute("aria-selected", String(one === item)));
    chosen = item ? item.dataset.question : null;
    get("#put").hidden = !item;
    if (!item) return;
    get("#put-name").textContent = get(".title", item).textContent;
    part("questions").setAttribute("aria-activedescendant", item.id);
    item.scrollIntoView({ block: "nearest" });
  }

  // Where there is room: first to compare, then by.
  const room = () => target || (get('.slot[data-side="down"] .chip') ? "across" : "down");

  function put(side) {
    if (!chosen) return;
    const question = chosen;
    aim(null);
    act("put", { question: question, side: side }).then(() => part("questions").focus({ preventScroll: true }));
  }

  function aim(side) {
    target = side;
    get("#find-for").textContent = side ? words.find_for[side] : "";
    all(".slot").forEach((slot) => slot.classList.toggle("aimed", slot.dataset.side === side));
    if (side) get("#find").focus();
  }

  function listKeys(event) {
    const list = seen();
    const at = list.findIndex((item) => item.dataset.question === chosen);
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 10, PageUp: -10 }[event.key];
    if (step !== undefined && list.length) {
      choose(list[Math.min(list.length - 1, Math.max(0, at < 0 ? 0 : at + step))]);
    } else if (event.key === "Home" && event.currentTarget.id !== "find") choose(list[0] || null);
    else if (event.key === "End" && event.currentTarget.id !== "find") choose(list[list.length - 1] || null);
    else if (event.key === "Enter") {
      if (at < 0 && list.length) choose(list[0]);
      put(room());
    } else if (event.key === "Escape") { aim(null); get("#find").value = ""; search(); } else return;
    event.preventDefault();
  }

  get("#find").addEventListener("input", search);
  get("#find").addEventListener("keydown", listKeys);
  part("questions").addEventListener("keydown", listKeys);
  part("questions").addEventListener("click", function (event) {
    const item = event.target.closest("li[data-question]");
    if (item) choose(item);
  });
  part("questions").addEventListener("dblclick", () => put(room()));

  // ---- what is clicked and chosen ----

  document.addEventListener("click", function (event) {
    const on = (selector) => event.target.closest(selector);
    const button = on("button");
    if (!button) return;
    const data = button.dataset;
    if (data.act) {
      act(data.act, data.with ? JSON.parse(data.with) : {}, on("#in-it") ? "who" : on("#hand-on") ? "publish" : null);
    } else if (data.put) {
      if (data.put === "answers") edit(chosen); else put(data.put);
    } else if (data.add) aim(data.add);
    else if (data.answers) edit(data.answers);
    else if (data.copy !== undefined) {
      navigator.clipboard.writeText(data.copy).then(() => { get("#said").textContent = words.copied; });
    } else if (data.again !== undefined) act("hello", {});
    else if (data.close !== undefined) get("#editor").close();
    else if (data.move) moved(button, Number(data.move));
  });

  document.addEventListener("change", function (event) {
    const field = event.target;
    const data = field.dataset;
    if (data.set) {
      act("set", { name: data.set, value: field.type === "checkbox" ? (field.checked ? true : "") : field.value });
    } else if (field.closest("[data-show]")) {
      const box = field.closest("[data-show]");
      const more = checkedIn(box);
      act("set", { name: "show", value: more.length ? [box.dataset.show].concat(more) : "" });
    } else if (field.closest("[data-several]")) {
      const box = field.closest("[data-several]");
      act("set", { name: box.dataset.several, value: checkedIn(box) });
    } else if (data.role) act("ask", { role: data.role, column: field.value }, "who").then((done) => back(done, field));
    else if (data.onePer !== undefined) act("one_per", { keep: field.value }, "who");
    else if (data.figure !== undefined) act("draw", { figure: field.value });
  });

  const checkedIn = (box) => all("input:checked", box).map((one) => one.value);

  // A choice that could not be made is taken back on the page too.
  function back(done, field) {
    if (done) return;
    all("option", field).forEach((option) => { if (option.defaultSelected) field.value = option.value; });
  }

  document.addEventListener("submit", function (event) {
    event.preventDefault();
    const form = event.target;
    const value = (name) => (form.elements[name] ? form.elements[name].value : null);
    if (form.dataset.form === "keep") act("keep", { among: value("among"), base: value("base") }, "who");
    else if (form.dataset.form === "publish") publish(value("what"), value("form"));
    else if (form.dataset.verb) {
      const question = get(".editor").dataset.question;
      const step = stepOf(form);
      act("prepare", step, "editor").then(function (done) {
        if (!done) return;
        const made = step.into || step.name; // a new question is chosen, so that it can be put somewhere
        if (made) choose(items().find((item) => item.dataset.question === made) || null);
        if (get("#editor").open) edit(made || question, true);
      });
    }
  });

  // Parts that are worked out only while they are open. Those that were open before are opened quietly.
  const quiet = new WeakSet();
  document.addEventListener("toggle", function (event) {
    const box = event.target;
    if (quiet.has(box)) { quiet.delete(box); return; }
    if (box.dataset && ["working", "code", "command", "plan", "more"].includes(box.dataset.open) && box.open &&
      box.childElementCount < 2) act("hello", {});
  }, true);

  async function publish(what, form) {
    try {
      const answer = await post("take", { what: what, form: form });
      if (answer.headers.get("Content-Type").startsWith("application/json")) {
        faulty("publish", (await answer.json()).fault);
        return;
      }
      const link = document.createElement("a");
      link.download = answer.headers.get("Content-Disposition").match(/filename="(.*)"/)[1];
      link.href = URL.createObjectURL(await answer.blob());
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), 60000);
      get("#said").textContent = filled(words.saved, { name: link.download });
      get("#fault-publish").replaceChildren();
    } catch (error) { lost(true); }
  }

  document.addEventListener("keydown", function (event) {
    const typing = /^(INPUT|TEXTAREA|SELECT)$/.test(event.target.tagName);
    const z = event.key.toLowerCase() === "z" && (event.ctrlKey || event.metaKey);
    if (z && !(typing && event.target.type !== "checkbox" && event.target.tagName === "INPUT")) {
      event.preventDefault();
      act(event.shiftKey ? "redo" : "undo", {});
    } else if (event.key === "/" && !typing) {
      event.preventDefault();
      get("#find").focus();
    } else if (/^Arrow(Left|Right)$/.test(event.key) && event.altKey && event.target.closest(".chip")) {
      event.preventDefault();
      shifted(event.target.closest(".chip"), event.key === "ArrowLeft" ? -1 : 1);
    }
  });

  // A question across goes one place on.
  function shifted(chip, step) {
    if (chip.dataset.from !== "across") return;
    const order = all('.slot[data-side="across"] .chip').map((one) => one.dataset.question);
    const at = order.indexOf(chip.dataset.question);
    const before = step < 0 ? order[at - 1] : order[at + 2];
    if (step < 0 && at === 0) return;
    act("put", { question: chip.dataset.question, side: "across", before: before || null });
  }

  // ---- dragging ----

  let dragged = null;
  document.addEventListener("dragstart", function (event) {
    const from = event.target.closest("[data-question], [data-tray]");
    if (!from || from.classList.contains("editor")) return;
    dragged = from.dataset.tray ? { tray: Number(from.dataset.tray) } : { question: from.dataset.question };
    event.dataTransfer.setData("text/plain", dragged.question || "");
    event.dataTransfer.effectAllowed = "move";
    document.body.classList.add(dragged.tray ? "dragging-tray" : "dragging");
  });
  document.addEventListener("dragend", function () {
    dragged = null;
    document.body.classList.remove("dragging", "dragging-tray");
    all(".over").forEach((one) => one.classList.remove("over"));
  });
  const landing = (event) => dragged && (dragged.tray ? event.target.closest("[data-tray]")
    : event.target.closest(".slot, #part-questions"));
  document.addEventListener("dragover", function (event) {
    const place = landing(event);
    all(".over").forEach((one) => { if (one !== place) one.classList.remove("over"); });
    if (!place) return;
    event.preventDefault();
    place.classList.add("over");
  });
  document.addEventListener("drop", function (event) {
    const place = landing(event);
    if (!place) return;
    event.preventDefault();
    if (dragged.tray) {
      act("tray_move", { at: dragged.tray, to: Number(place.dataset.tray) });
    } else if (place.id === "part-questions") {
      const chip = get('.chip[data-question="' + CSS.escape(dragged.question) + '"]');
      if (chip) act("drop", { question: dragged.question, side: chip.dataset.from });
    } else {
      const before = event.target.closest(".chip");
      act("put", { question: dragged.question, side: place.dataset.side, before: before ? before.dataset.question : null });
    }
  });

  // ---- the editor of answers ----

  // `again` shows it anew where it is open; whoever has closed it meanwhile is left alone.
  async function edit(question, again) {
    if (!question) return;
    try {
      const answer = await (await post("answers", { question: question })).json();
      if (answer.fault) { faulty(null, answer.fault); return; }
      if (answer.overtaken) return;
      const box = get("#editor");
      if (again && !box.open) return;
      get("#editor-inside").innerHTML = answer.html;
      if (!box.open) { opener = document.activeElement; box.showModal(); }
    } catch (error) { lost(true); }
  }
  let opener = null;
  get("#editor").addEventListener("close", function () {
    const key = opener && opener.dataset ? opener.dataset.key : null;
    const again = key ? get('[data-key="' + CSS.escape(key) + '"]') : opener;
    if (again && again.isConnected) again.focus();
  });

  const answersInOrder = () => all(".answers li input[type=checkbox]").map((one) => one.value);

  // The step of a verb, as a plan has it: its fields by their names, and what is taken from the answers.
  function stepOf(form) {
    const step = { verb: form.dataset.verb, question: get(".editor").dataset.question };
    const read = {
      texts: (text) => text,
      numbers: (text) => (Number.isNaN(Number(text)) ? text : Number(text))
    };
    all("input[name]", form).forEach(function (field) {
      const value = field.value.trim();
      if (field.name === "called") return;
      const list = () => value.split(/[\s,;]+/).filter((one) => one !== "").map(read[field.dataset.several]);
      step[field.name] = field.dataset.several ? list() : value || null;
    });
    if (step.columns) delete step.question;
    const taken = {
      chosen: () => ({ [form.elements.called.value.trim()]: all(".answers input:checked").map((one) => one.value) }),
      order: answersInOrder,
      scores: () => Object.fromEntries(all(".answers li").map((line) =>
        [get("input[type=checkbox]", line).value, Number(get(".score", line).value)]))
    };
    if (form.dataset.takes) step[form.dataset.into] = taken[form.dataset.takes]();
    return step;
  }

  function moved(button, step) {
    const item = button.closest("li");
    const other = step < 0 ? item.previousElementSibling : item.nextElementSibling;
    if (!other) return;
    if (step < 0) other.before(item); else other.after(item);
    button.focus();
    previewed(get('[data-verb="order_answers"]'));
  }

  // What would come of the verb whose fields were touched last.
  let timer = null;
  function previewed(form) {
    clearTimeout(timer);
    timer = setTimeout(async function () {
      const step = stepOf(form);
      const names = Object.values(step.answers && !Array.isArray(step.answers) ? step.answers : step.missing || step.nets || {});
      if (names.length && (!names[0].length || "" in (step.answers || step.missing || step.nets)) || step.verb === "band" && !step.breaks.length) return;
      const answer = await (await post("answers", { question: get(".editor").dataset.question, step: step })).json();
      get("#fault-editor").innerHTML = answer.fault || "";
      if (answer.html) get("#preview").innerHTML = answer.html;
    }, 150);
  }
  get("#editor").addEventListener("input", function (event) {
    const form = event.target.closest("form[data-verb]");
    if (form) previewed(form);
    else if (event.target.classList.contains("score")) previewed(get('[data-verb="score"]'));
    else if (event.target.type === "checkbox") {
      const named = ["net", "regroup"].map((verb) => get('[data-verb="' + verb + '"]')).filter(Boolean)
        .find((one) => one.elements.called.value.trim());
      if (named) previewed(named);
    }
  });

  // ---- completing a condition ----

  const list = get("#completions");
  let field = null, at = -1;

  // What may stand at the end of what is written: names, or the answers of the question that is compared.
  function completions(text) {
    const compared = text.match(/([A-Za-z.][\w.]*|`[^`]+`)\s*(?:==|!=|<=?|>=?|%in%\s*c\((?:[^()]*,)?)\s*(["']?)([^"'()]*)$/);
    if (compared) {
      const answers = known.answers[compared[1].replace(/`/g, "")];
      if (!answers) return [];
      const start = compared[3].trimStart().toLowerCase();
      return answers.filter((one) => one.toLowerCase().includes(start)).map((one) =>
        ({ text: one, gives: text.slice(0, text.length - compared[3].length - compared[2].length) + JSON.stringify(one) }));
    }
    const word = text.match(/(?:^|[\s(&|!])([A-Za-z.][\w.]*)$/);
    if (!word) return [];
    const start = word[1].toLowerCase();
    return known.names.map((one, k) => ({ name: one, title: known.titles[k] }))
      .filter((one) => one.name.toLowerCase().includes(start) || one.title.toLowerCase().includes(start))
      .map((one) => ({
        text: one.name === one.title ? one.name : one.name + " \u2013 " + one.title,
        gives: text.slice(0, text.length - word[1].length) + (/^[A-Za-z.][\w.]*$/.test(one.name) ? one.name : "`" + one.name + "`")
      }));
  }

  function complete() {
    const before = field.value.slice(0, field.selectionStart);
    const found = completions(before).slice(0, 8);
    at = -1;
    list.hidden = !found.length;
    field.setAttribute("aria-expanded", String(found.length > 0));
    const place = field.getBoundingClientRect();
    list.style.left = place.left + "px";
    list.style.top = place.bottom + 2 + "px";
    list.style.minWidth = place.width + "px";
    list.replaceChildren(...found.map(function (one, k) {
      const item = document.createElement("li");
      item.id = "completion-" + k;
      item.setAttribute("role", "option");
      item.textContent = one.text;
      item.dataset.gives = one.gives;
      return item;
    }));
  }

  function taken(item) {
    const rest = field.value.slice(field.selectionStart);
    field.value = item.dataset.gives + rest;
    field.setSelectionRange(item.dataset.gives.length, item.dataset.gives.length);
    hide();
  }
  function hide() { list.hidden = true; at = -1; if (field) field.setAttribute("aria-expanded", "false"); }

  document.addEventListener("input", function (event) {
    if (event.target.name !== "among") return;
    field = event.target;
    complete();
  });
  document.addEventListener("keydown", function (event) {
    if (list.hidden || event.target !== field) return;
    const options = all("li", list);
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      at = (at + (event.key === "ArrowDown" ? 1 : -1) + options.length) % options.length;
      options.forEach((one, k) => one.setAttribute("aria-selected", String(k === at)));
      field.setAttribute("aria-activedescendant", options[at].id);
    } else if ((event.key === "Enter" || event.key === "Tab") && at >= 0) taken(options[at]);
    else if (event.key === "Escape") hide(); else return;
    event.preventDefault();
    event.stopPropagation();
  }, true);
  list.addEventListener("pointerdown", function (event) {
    const item = event.target.closest("li");
    if (!item) return;
    event.preventDefault();
    taken(item);
  });
  document.addEventListener("focusout", function (event) { if (event.target === field) hide(); });

  // the answer of another window of this name comes at once, if there is one
  setTimeout(function () { settled = true; act("hello", {}); }, 60);
})();
