// What a table of the page can do beside standing there: show another figure of its cells, shade, sort, turn, be copied,
// and say how a cell comes about. Every figure comes from the model that stands beside the table (R/sheet-living.R);
// nothing is worked out, kept or sent. Without this script the page is complete as it stands.
(function () {
  "use strict";

  const words = JSON.parse(document.getElementById("page-words").textContent);
  const marks = words.marks;
  const percentages = ["column", "row", "total"];

  // ---- numbers and texts as the page writes them ----

  function number(x, digits) {
    if (x === null || x === undefined) return "";
    const fixed = Math.abs(x).toFixed(digits);
    const parts = fixed.split(".");
    parts[0] = parts[0].replace(/\B(?=(\d{3})+(?!\d))/g, marks.thousands);
    const zero = Number(fixed) === 0;
    return (x < 0 && !zero ? marks.minus : "") + parts.join(marks.decimal);
  }

  // A share that is not 0 is not written as 0, nor one below 100 as 100.
  function percent(x, digits) {
    if (x === null || x === undefined) return "";
    const least = Math.pow(10, -digits);
    if (x > 0 && x < least / 2) return "<" + number(least, digits);
    if (x < 100 - 1e-9 && x >= 100 - least / 2) return ">" + number(100 - least, digits);
    return number(x, digits);
  }

  const withSign = (x, digits) => percent(x, digits) + words.percent_sign;

  function pValue(p) {
    const least = Math.pow(10, -marks.digits_p);
    const bounded = (x) => (marks.leading_zero ? number(x, marks.digits_p) : number(x, marks.digits_p).replace(/^0/, ""));
    if (p < least) return "p < " + bounded(least);
    if (p > 1 - least) return "p > " + bounded(1 - least);
    return "p = " + bounded(p);
  }

  const filled = (text, values) => text.replace(/\{(\w+)\}/g, (all, name) => (name in values ? values[name] : all));

  function element(name, attributes, ...inside) {
    const made = document.createElement(name);
    for (const key of Object.keys(attributes || {})) {
      if (attributes[key] !== null && attributes[key] !== undefined) made.setAttribute(key, attributes[key]);
    }
    made.append(...inside.filter((one) => one !== null));
    return made;
  }

  // ---- the two sides of a table ----

  // Lines of a side in the order of the sheet: answers and nets by their places, everybody last.
  function downLines(model) {
    const lines = model.order.map((at) => ({ label: model.answers[at - 1], i: at - 1, kind: kindOf(model, at) }));
    return lines.concat({ label: words.all, i: model.answers.length, kind: "all" });
  }

  function acrossLines(model) {
    const lines = [];
    model.blocks.forEach((block, b) => {
      block.order.forEach((at) => {
        lines.push({ label: block.answers[at - 1], b: b, j: at - 1, kind: kindOf(block, at), group: block.label });
      });
    });
    const last = model.blocks[0].answers.length;
    return lines.concat({ label: words.all, b: 0, j: last, kind: "all", whole: Boolean(model.whole), group: "" });
  }

  const kindOf = (side, at) => (at > side.answers.length - side.nets ? "net" : "answer");

  function figure(model, name, down, across) {
    if (across.whole) return model.whole[name] ? model.whole[name][down.i][0] : null;
    return model.blocks[across.b].figures[name][down.i][across.j];
  }

  // ---- what stands in a cell ----

  const views = {
    percent: (m, s, d, a) => percent(figure(m, s.base, d, a), m.digits),
    n: (m, s, d, a) => number(figure(m, "n", d, a), 0),
    weighted: (m, s, d, a) => number(figure(m, "weighted", d, a), 0),
    expected: (m, s, d, a) => number(figure(m, "expected", d, a), 1),
    adjusted_residual: (m, s, d, a) => number(figure(m, "adjusted_residual", d, a), 2),
    interval: function (m, s, d, a) {
      const low = figure(m, s.base + "_low", d, a);
      if (low === null || low === undefined) return "";
      return filled(words.interval, {
        low: percent(low, m.digits), high: percent(figure(m, s.base + "_high", d, a), m.digits)
      });
    }
  };

  const sizeOf = (m, s, d, a) => figure(m, s.view === "percent" || s.view === "interval" ? s.base : s.view, d, a);

  // The lines at the ends that a view has: everybody where there are figures of it; under the base of the percentages
  // their total and the respondents.
  function ends(model, state, down, across) {
    const whole = { n: true, weighted: true, percent: true }[state.view];
    const keep = (line, based, ticks) => whole && !(state.view === "percent" && state.base === based && ticks);
    const base = state.view === "percent" || state.view === "interval";
    const rows = down.filter((line) => line.kind !== "all" || keep(line, "column", model.ticks));
    const columns = across.filter((line) => line.kind !== "all" || keep(line, "row", model.blocks[0].ticks));
    const name = (lines, based) => lines.map((line) => (line.kind === "all" && state.view === "percent" &&
      state.base === based ? Object.assign({}, line, { label: words.total, kind: "total" }) : line));
    const basis = { label: words.respondents, kind: "base" };
    return {
      down: name(rows, "column").concat(base && state.base === "column" ? Object.assign({ i: down.length - 1 }, basis) : []),
      across: name(columns, "row").concat(base && state.base === "row" && !model.whole
        ? Object.assign({ b: 0, j: model.blocks[0].answers.length, group: "" }, basis) : [])
    };
  }

  function textOf(model, state, down, across) {
    if (down.kind === "base") {
      const last = Object.assign({}, down, { i: model.answers.length });
      return number(figure(model, "n", last, across), 0);
    }
    if (across.kind === "base") return number(figure(model, "n", down, across), 0);
    return views[state.view](model, state, down, across);
  }

  const inside = (line) => line.kind === "answer" || line.kind === "net";

  // ---- the drawn table ----

  function drawnTable(model, state, sort) {
    const all = ends(model, state, downLines(model), acrossLines(model));
    let rows = state.turned ? all.across : all.down;
    const columns = state.turned ? all.down : all.across;
    const sides = (row, column) => (state.turned ? [column, row] : [row, column]);
    if (state.sort !== null) rows = sorted(model, state, rows, columns[state.sort.column], sides);
    const heads = element("tr", {}, element("th", { scope: "col", class: "corner" },
      state.turned ? across(model) : model.label));
    const spanners = element("tr", {}, element("td", { class: "corner" }));
    let group = null;
    columns.forEach((column, k) => {
      const turn = state.sort && state.sort.column === k ? (state.sort.up ? "ascending" : "descending") : null;
      const button = element("button", { type: "button", class: "sort" }, column.label,
        element("span", { "aria-hidden": "true" }, turn ? (state.sort.up ? " \u25b4" : " \u25be") : ""));
      button.addEventListener("click", () => sort(k));
      heads.append(element("th", { scope: "col", class: column.kind, "aria-sort": turn }, button));
      const over = state.turned ? (inside(column) ? model.label : "") : column.group;
      if (group && group.label === over) {
        group.head.colSpan += 1;
      } else {
        group = { label: over, head: element(over ? "th" : "td", over ? { scope: "colgroup", class: "spanner" } : {}, over || "") };
        spanners.append(group.head);
      }
    });
    const body = element("tbody");
    let heading = null;
    rows.forEach((row) => {
      if (state.turned && model.blocks.length > 1 && row.group && row.group !== heading) {
        heading = row.group;
        body.append(element("tr", { class: "heading" },
          element("th", { scope: "rowgroup", colspan: String(columns.length + 1) }, heading)));
      }
      const line = element("tr", { class: row.kind }, element("th", { scope: "row" }, row.label));
      columns.forEach((column) => line.append(drawnCell(model, state, sides(row, column), column)));
      body.append(line);
    });
    return element("table", { class: "drawn" }, element("caption", {}), element("thead", {}, spanners, heads), body);
  }

  function drawnCell(model, state, at, column) {
    const down = at[0], across = at[1];
    const cell = element("td", { class: column.kind }, textOf(model, state, down, across));
    const sign = element("span", { class: "sign" });
    cell.append(sign);
    if (!inside(down) || !inside(across)) return cell;
    cell.dataset.at = [across.b + 1, down.i + 1, across.j + 1].join(".");
    const mark = figure(model, "mark", down, across);
    if (mark) {
      cell.classList.add("mark", mark > 0 ? "more" : "fewer");
      sign.append(element("span", { "aria-hidden": "true" }, mark > 0 ? "+" : "\u2212"),
        element("span", { class: "spoken" }, mark > 0 ? words.more : words.fewer));
    }
    return cell;
  }

  function sorted(model, state, rows, column, sides) {
    const of = (row) => {
      const at = sides(row, column);
      return column.kind === "base" ? figure(model, "n", at[0], at[1]) : sizeOf(model, state, at[0], at[1]);
    };
    const own = rows.filter(inside), others = rows.filter((row) => !inside(row));
    const way = state.sort.up ? 1 : -1;
    const groups = [...new Set(own.map((row) => row.group))];
    return groups.flatMap((group) => own.filter((row) => row.group === group)
      .sort((a, b) => way * ((of(a) ?? -Infinity) - (of(b) ?? -Infinity)))).concat(others);
  }

  const across = (model) => model.blocks.map((block) => block.label).join(", ");

  function viewName(model, state) {
    const name = words.views[state.view];
    if (state.view !== "percent" && state.view !== "interval") return name;
    return name + ": " + baseName(model, state.base);
  }

  const baseName = (model, base) => filled(words.bases[base], { question: base === "column" ? across(model) : model.label });

  // ---- how a cell comes about ----

  function working(model, base, at) {
    const b = at[0], down = { i: at[1] }, across = { b: b, j: at[2] };
    const block = model.blocks[b];
    const last = { down: { i: model.answers.length }, across: { b: b, j: block.answers.length } };
    const of = (name, d, a) => figure(model, name, d || down, a || across);
    const row = model.answers[down.i], column = block.answers[across.j];
    const line = (label, text) => element("div", {}, element("dt", {}, label), element("dd", {}, text));
    const shares = percentages.filter((name) => of(name) !== null).map(function (name) {
      const whose = { column: column, row: row, total: words.everybody }[name];
      const low = of(name + "_low");
      return line(filled(words.share_of, { whose: whose }), withSign(of(name), model.digits) + (low === null ? "" : " (" +
        filled(model.ci, { low: percent(low, model.digits), high: percent(of(name + "_high"), model.digits) }) + ")"));
    });
    const list = element("dl", {}, line(words.views.n, number(of("n"), 0)), ...shares);
    const expected = of("expected");
    if (expected !== null && !model.ticks && !block.ticks) {
      const observed = block.n * of("total") / 100;
      list.append(
        line(words.expected, number(block.n, 0) + " \u00d7 " + withSign(of("total", down, last.across), 2) + " \u00d7 " +
          withSign(of("total", last.down, across), 2) + " = " + number(expected, 1)),
        line(words.observed, number(block.n, 0) + " \u00d7 " + withSign(of("total"), 2) + " = " + number(observed, 1)));
      if (of("contribution") !== null) {
        list.append(line(words.contribution, "(" + number(observed, 1) + " \u2212 " + number(expected, 1) + ")\u00b2 / " +
          number(expected, 1) + " = " + number(of("contribution"), 2)));
      }
    }
    const residual = of("adjusted_residual");
    if (residual !== null) {
      const mark = of("mark");
      const verdict = mark > 0 ? words.more : mark < 0 ? words.fewer : words.unmarked;
      const p = of("p_corrected");
      list.append(line(words.residual, number(residual, 2) + (p === null ? "" : ", " + words.corrected + " " + pValue(p)) +
        "; " + verdict));
    }
    const overall = base === "row" ? of("row", last.down, across) : of("column", down, last.across);
    const share = of(base === "row" ? "row" : "column"); // null where nobody is in the base
    const sentence = share === null ? "" : filled(base === "row" ? words.sentence_row : words.sentence, {
      down: row, across: column, share: withSign(share, model.digits), overall: withSign(overall, model.digits)
    });
    return [element("p", { class: "cell" }, element("b", {}, row + " \u00d7 " + column)), element("p", {}, sentence), list];
  }

  // ---- one table of the page ----

  // On the desk the tools stand elsewhere: `bare` has the working of a cell alone, and the copy.
  function lively(sheet, bare) {
    const source = sheet.querySelector("script.model");
    const model = JSON.parse(source.textContent);
    const box = sheet.querySelector(".scroll");
    const published = box.querySelector("table");
    const title = published.caption.firstElementChild;
    const state = { view: "sheet", base: model.base, shade: "none", turned: false, sort: null };
    const panel = element("div", { class: "working", "aria-live": "polite" });
    const status = element("span", { role: "status", class: "status" });
    const said = element("span", { role: "status", class: "spoken" });
    const choice = (label, options, change) => {
      const select = element("select", {}, ...options.map((option) => element("option", { value: option[0] }, option[1])));
      select.addEventListener("change", () => change(select.value));
      return { box: element("label", {}, label + " ", select), select: select };
    };
    const button = (label, act) => {
      const made = element("button", { type: "button" }, label);
      made.addEventListener("click", act);
      return made;
    };
    const show = choice(words.show, [["sheet", words.published]].concat(Object.keys(views).filter((view) =>
      view !== "weighted" || model.weighted).map((view) => [view, words.views[view]])), function (value) {
      state.view = value;
      if (value === "sheet") { state.turned = false; state.sort = null; }
      draw();
    });
    const base = choice(words.percentages_of, percentages.map((name) => [name, baseName(model, name)]), function (value) {
      state.base = value;
      if (state.view === "sheet") leave();
      draw();
    });
    const shade = choice(words.shade, [["none", words.no_shade], ["percent", words.views.percent],
      ["residual", words.views.adjusted_residual]], function (value) { state.shade = value; draw(); });
    const turn = button(words.turn, function () {
      if (state.view === "sheet") leave();
      state.turned = !state.turned;
      state.sort = null;
      draw();
    });
    const copy = button(words.copy, () => { copied(box.querySelector("table"), sheet); status.textContent = words.copied; });
    const order = choice(words.sort, [], function (value) {
      if (state.view === "sheet") leave();
      state.sort = value === "" ? null : { column: Number(value), up: false };
      draw();
    });
    const tools = element("div", { class: "tools", role: "group", "aria-label": words.tools },
      ...(bare ? [] : [show.box, base.box, order.box, shade.box, turn]), copy, status, said);
    base.select.value = state.base;
    hint();
    box.after(tools, panel);
    draw();

    // What was published has its own layout; whatever changes it draws the table anew.
    function leave() { state.view = "percent"; show.select.value = "percent"; }

    function hint() { panel.replaceChildren(element("p", { class: "hint" }, words.hint)); }

    function sortBy(column) {
      if (state.sort && state.sort.column === column && state.sort.up) {
        state.sort = null;
      } else {
        state.sort = { column: column, up: Boolean(state.sort && state.sort.column === column) };
      }
      draw();
    }

    function draw() {
      const focus = box.contains(document.activeElement) ? headAt(document.activeElement) : -1;
      const columns = ends(model, state.view === "sheet" ? Object.assign({}, state, { view: "percent" }) : state,
        downLines(model), acrossLines(model))[state.turned ? "down" : "across"];
      if (state.sort !== null && state.sort.column >= columns.length) state.sort = null; // a column that this view lacks
      const table = state.view === "sheet" ? published : drawnTable(model, state, sortBy);
      if (table !== published) {
        table.caption.append(title.cloneNode(true), element("span", {}, viewName(model, state)));
        if (!state.turned) table.setAttribute("style", published.getAttribute("style"));
      }
      box.querySelector("table").replaceWith(table);
      order.select.replaceChildren(element("option", { value: "" }, words.as_asked), ...columns.map((column, k) =>
        element("option", { value: String(k) }, column.label)));
      order.select.value = state.sort === null ? "" : String(state.sort.column);
      if (focus >= 0 && table.querySelectorAll("button.sort")[focus]) table.querySelectorAll("button.sort")[focus].focus();
      cells(table).forEach((cell, k) => {
        cell.tabIndex = k === 0 ? 0 : -1;
        shadeCell(cell);
      });
      said.textContent = state.view === "sheet" ? "" : viewName(model, state);
      status.textContent = "";
    }

    function headAt(head) { return [...box.querySelectorAll("button.sort")].indexOf(head); }

    function shadeCell(cell) {
      cell.classList.remove("shaded", "high", "low");
      cell.style.removeProperty("--shade");
      if (state.shade === "none") return;
      const at = placeOf(cell);
      const of = (name) => model.blocks[at[0]].figures[name][at[1]][at[2]];
      const value = state.shade === "percent" ? of(state.base) / 100 : of("adjusted_residual") / 6;
      if (value === null || Number.isNaN(value)) return;
      cell.classList.add("shaded", value < 0 ? "low" : "high");
      cell.style.setProperty("--shade", String(Math.min(Math.abs(value), 1)));
    }

    function told(cell) {
      for (const other of box.querySelectorAll("td.told")) other.classList.remove("told");
      cell.classList.add("told");
      panel.replaceChildren(...working(model, state.base, placeOf(cell)));
    }

    let pinned = false;
    const cellOf = (target) => target.closest && target.closest("td[data-at]");
    box.addEventListener("pointerover", function (event) {
      const cell = cellOf(event.target);
      if (cell && !pinned && event.pointerType === "mouse") told(cell);
    });
    box.addEventListener("click", function (event) {
      const cell = cellOf(event.target);
      if (!cell) return;
      pinned = true;
      move(cell);
    });
    box.addEventListener("focusin", function (event) {
      const cell = cellOf(event.target);
      if (cell) told(cell);
    });
    box.addEventListener("keydown", function (event) {
      const cell = cellOf(event.target);
      if (event.key === "Escape") {
        pinned = false;
        for (const other of box.querySelectorAll("td.told")) other.classList.remove("told");
        hint();
      }
      if (!cell) return;
      const next = neighbour(cell, event.key);
      if (next) { event.preventDefault(); move(next); }
    });

    function move(cell) {
      for (const other of cells(box)) other.tabIndex = -1;
      cell.tabIndex = 0;
      cell.focus();
      told(cell);
    }
  }

  const cells = (table) => [...table.querySelectorAll("td[data-at]")];

  const placeOf = (cell) => cell.dataset.at.split(".").map((one) => Number(one) - 1);

  // The cell that an arrow leads to.
  function neighbour(cell, key) {
    const step = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[key];
    if (!step) return null;
    const rows = [...cell.closest("table").querySelectorAll("tr")].filter((row) => row.querySelector("td[data-at]"));
    const row = cell.parentElement;
    if (step[0]) {
      const other = rows[rows.indexOf(row) + step[0]];
      return other ? cells(other)[cells(row).indexOf(cell)] || null : null;
    }
    return cells(row)[cells(row).indexOf(cell) + step[1]] || null;
  }

  // The table as it is seen: as text with tabs, and as a table that keeps its look where it is pasted.
  function copied(table, sheet) {
    const own = table.cloneNode(true);
    own.querySelectorAll(".spoken").forEach((one) => one.remove());
    own.querySelectorAll("button").forEach((one) => one.replaceWith(one.textContent));
    const lines = [...own.rows].map((row) => [...row.cells].flatMap((cell) =>
      [cell.textContent.trim()].concat(Array(cell.colSpan - 1).fill(""))).join("\t"));
    own.querySelectorAll("th, td").forEach(function (cell) {
      const number = cell.tagName === "TD";
      cell.setAttribute("style", "padding:2px 8px;text-align:" + (number ? "right" : "left") +
        (cell.closest("thead") ? ";border-bottom:1px solid #000;font-weight:bold" : "") +
        (cell.classList.contains("mark") ? ";font-weight:bold" : ""));
    });
    for (const one of [own, ...own.querySelectorAll("*")]) {
      ["data-at", "tabindex", "class"].forEach((name) => one.removeAttribute(name));
    }
    own.setAttribute("style", "border-collapse:collapse;font-family:sans-serif;font-size:10pt");
    const title = element("p", {}, element("b", {}, sheet.closest("section").querySelector("h1, h2, h3, h4").textContent));
    own.caption.remove();
    const listen = function (event) {
      event.clipboardData.setData("text/plain", lines.join("\n"));
      event.clipboardData.setData("text/html", title.outerHTML + own.outerHTML);
      event.preventDefault();
    };
    document.addEventListener("copy", listen);
    document.execCommand("copy");
    document.removeEventListener("copy", listen);
  }

  // ---- the page as a whole ----

  // Long contents can be searched.
  function searchable(contents) {
    const items = [...contents.querySelectorAll("li")].filter((item) => !item.querySelector("li"));
    if (items.length < 8) return;
    const field = element("input", { type: "search", autocomplete: "off" });
    const status = element("span", { role: "status", class: "status" });
    field.addEventListener("input", function () {
      const asked = field.value.trim().toLowerCase();
      let found = 0;
      for (const item of items) {
        item.hidden = !item.textContent.toLowerCase().includes(asked);
        if (!item.hidden) found += 1;
      }
      for (const list of contents.querySelectorAll("li")) {
        if (list.querySelector("li")) list.hidden = !list.querySelector("li:not([hidden])");
      }
      status.textContent = asked ? filled(words.found, { number: found }) : "";
    });
    contents.prepend(element("p", { class: "tools" }, element("label", {}, words.find + " ", field), status));
  }

  // Light or dark as the system is set, until the reader chooses.
  function shadeable() {
    const dark = window.matchMedia("(prefers-color-scheme: dark)");
    const button = element("button", { type: "button", class: "light" });
    const set = function (on) {
      document.documentElement.classList.toggle("dark", on);
      button.textContent = on ? words.light : words.dark;
    };
    set(dark.matches);
    button.addEventListener("click", () => set(!document.documentElement.classList.contains("dark")));
    (document.querySelector(".lights") || document.querySelector("main")).prepend(button);
  }

  // A summary is sorted by the head that is clicked.
  function sortable(table) {
    const heads = [...table.tHead.rows[0].cells];
    const body = table.tBodies[0];
    const asked = [...body.rows];
    const value = (text) => {
      const plain = text.split(marks.thousands).join("").replace(marks.decimal, ".").replace(marks.minus, "-").replace(/^[<>]\s*/, "");
      return /^-?[\d.]+$/.test(plain) ? Number(plain) : text === "" ? null : text.toLowerCase();
    };
    heads.forEach(function (head, k) {
      const label = head.textContent;
      if (!label.trim()) return;
      const button = element("button", { type: "button", class: "sort" }, label);
      head.replaceChildren(button);
      button.addEventListener("click", function () {
        const now = head.getAttribute("aria-sort");
        heads.forEach((other) => other.removeAttribute("aria-sort"));
        const way = now === null ? 1 : now === "ascending" ? -1 : 0;
        if (way) head.setAttribute("aria-sort", way > 0 ? "ascending" : "descending");
        const rows = way === 0 ? asked : [...asked].sort(function (a, b) {
          const x = value(a.cells[k].textContent), y = value(b.cells[k].textContent);
          if (x === null || y === null) return (x === null) - (y === null);
          if (typeof x !== typeof y) return typeof x === "number" ? -1 : 1;
          return way * (x < y ? -1 : x > y ? 1 : 0);
        });
        body.append(...rows);
      });
    });
  }

  window.livelyTable = lively;
  document.documentElement.classList.add("scripted");
  shadeable();
  document.querySelectorAll("nav:not(.site)").forEach(searchable);
  document.querySelectorAll("table.sortable").forEach(sortable);
  // a table comes alive when it comes near, so that a long book opens at once
  const watch = new IntersectionObserver(function (seen) {
    for (const one of seen) {
      if (!one.isIntersecting) continue;
      watch.unobserve(one.target);
      lively(one.target);
    }
  }, { rootMargin: "400px" });
  document.querySelectorAll(".sheet").forEach(function (sheet) {
    if (sheet.querySelector("script.model")) watch.observe(sheet);
  });
})();
