(() => {
  const table = document.getElementById("found");
  if (!table) return;
  const MANY = 30;
  let PAGE = 50;
  const at = id => document.getElementById(id);
  const names = JSON.parse(at("names").textContent);
  const rows = JSON.parse(at("rows").textContent);
  const [TABLE, KIND, KEY, IS, COLUMNS] = [0, 1, 2, 3, 4];
  const marked = new Set();
  const marks = !!at("mark-all");
  let listed = rows.map((_, i) => i), page = 0;

  const cell = (tr, text, cls, span) => {
    const td = tr.insertCell();
    td.textContent = text;
    if (cls) td.className = cls;
    if (span > 1) td.rowSpan = span;
    return td;
  };
  const counted = n => n.toLocaleString("en-US");

  function fill() {
    const body = table.tBodies[0];
    body.replaceChildren();
    if (!listed.length) cell(body.insertRow(), "no row matches", "none").colSpan = marks ? 7 : 6;
    for (const i of listed.slice(page * PAGE, (page + 1) * PAGE)) {
      const row = rows[i], columns = row[COLUMNS].slice(0, MANY);
      const more = row[COLUMNS].length - columns.length;
      if (!columns.length) columns.push(["", "", ""]);
      if (more) columns.push(["and " + more + " more columns", "", ""]);
      columns.forEach((column, c) => {
        const tr = body.insertRow();
        if (c === 0) {
          if (marks) {
            const box = document.createElement("input");
            box.type = "checkbox";
            box.checked = marked.has(i);
            box.disabled = row[IS] === null;
            box.setAttribute("aria-label", "mark " + names[row[TABLE]] + " " + row[KEY]);
            box.onchange = () => { box.checked ? marked.add(i) : marked.delete(i); tell(); };
            cell(tr, "", "", columns.length).append(box);
          }
          cell(tr, names[row[TABLE]], "", columns.length);
          cell(tr, row[KIND], "k-" + row[KIND], columns.length);
          cell(tr, row[KEY], "v", columns.length);
        }
        cell(tr, column[0]);
        cell(tr, column[1], "v");
        cell(tr, column[2], "v");
      });
    }
    tell();
  }

  function tell() {
    const pages = Math.max(1, Math.ceil(listed.length / PAGE));
    at("page").textContent = "page " + (page + 1) + " of " + counted(pages);
    at("back").disabled = page === 0;
    at("on").disabled = page + 1 >= pages;
    at("count").textContent = counted(listed.length) + " listed" + (marked.size ? ", " + counted(marked.size) + " marked" : "");
    if (marks) {
      at("save").disabled = marked.size === 0;
      at("mark-all").checked = listed.length > 0 && listed.every(i => marked.has(i) || rows[i][IS] === null);
    }
  }

  function filter() {
    const name = at("f-table").value, kind = at("f-kind").value, text = at("f-text").value.toLowerCase();
    listed = [];
    rows.forEach((row, i) => {
      if (name !== "" && row[TABLE] !== +name || kind !== "" && row[KIND] !== kind) return;
      const found = !text || row[KEY].toLowerCase().includes(text)
        || row[COLUMNS].some(column => column.some(part => part.toLowerCase().includes(text)));
      if (found) listed.push(i);
    });
    page = 0;
    fill();
  }

  const PAGED = PAGE;
  addEventListener("beforeprint", () => {
    const seen = Math.min(PAGED, listed.length - page * PAGED);
    if (PRINT_ALL) {
      PAGE = Math.max(1, listed.length);
      page = 0;
      fill();
    }
    const printed = PRINT_ALL ? listed.length : seen;
    at("paper").textContent = counted(printed) + " of " + IN_RUN + " rows that differ are printed here."
      + (PRINT_ALL && ON_PAGE === IN_RUN && listed.length === rows.length ? ""
        : " The others are on the page itself" + (ON_PAGE === IN_RUN ? "" : " as far as it goes, and all are in the CSV files beside it")
          + (PRINT_ALL ? "." : "; report --print-all prints all that are on it."));
  });
  addEventListener("afterprint", () => { if (PRINT_ALL) { PAGE = PAGED; page = 0; fill(); } });
  at("f-table").onchange = at("f-kind").onchange = at("f-text").oninput = filter;
  at("back").onclick = () => { page--; fill(); };
  at("on").onclick = () => { page++; fill(); };
  if (marks) {
    at("mark-all").onchange = event => {
      listed.forEach(i => event.target.checked && rows[i][IS] !== null ? marked.add(i) : marked.delete(i));
      fill();
    };
    at("save").onclick = () => {
      const lines = [JSON.stringify({selection: 1, run: RUN})];
      [...marked].sort((a, b) => a - b).forEach(i => {
        const keyed = rows[i][KEY] !== "";
        lines.push('{"match":' + JSON.stringify(names[rows[i][TABLE]]) + ',"' + (keyed ? "key" : "row") + '":' + rows[i][IS] + "}");
      });
      const link = document.createElement("a");
      link.href = URL.createObjectURL(new Blob([lines.join("\n") + "\n"], {type: "application/x-ndjson"}));
      link.download = "selection.jsonl";
      link.click();
      URL.revokeObjectURL(link.href);
    };
  }
  fill();
})();
