// Edits of a programme's document: each takes a document and gives a new one, or nothing to do.

const freshId = () => crypto.randomUUID().slice(0, 12);
const numbers = (text) => text.replaceAll(",", ".").split(/[\s;]+/).filter(Boolean).map(Number);
const STEPS = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };

/** A note's number, NaN where the text is none. */
function midiOf(name) {
  const match = /^([A-Ga-g])([#♯b♭]?)(\d)$/.exec(name);
  if (!match) return NaN;
  const by = { "": 0, "#": 1, "♯": 1, b: -1, "♭": -1 }[match[2]];
  return 12 * (Number(match[3]) + 1) + STEPS[match[1].toUpperCase()] + by;
}

export function edits(tasks, page) {
  const at = (doc, id) => doc.items.findIndex((item) => item.id === id);
  const put = (doc, items) => ({ ...doc, items });
  const set = (doc, id, values) => put(doc, doc.items.map((item) => (item.id === id ? { ...item, ...values } : item)));

  function moveTo(doc, id, onto) {
    const items = doc.items.filter((item) => item.id !== id);
    items.splice(at(doc, onto), 0, doc.items[at(doc, id)]);
    return id === onto ? null : put(doc, items);
  }

  function move(doc, id, by) {
    const place = at(doc, id) + by;
    return place < 0 || place >= doc.items.length || at(doc, id) < 0 ? null : moveTo(doc, id, doc.items[place].id);
  }

  function add(doc, code, after) {
    const item = { ...structuredClone(tasks.get(code).item), id: freshId() };
    const items = [...doc.items];
    const place = at(doc, after);
    items.splice(place < 0 ? items.length : place + 1, 0, item);
    return [put(doc, items), item.id];
  }

  function duplicate(doc, id) {
    const place = at(doc, id);
    if (place < 0) return null;
    const items = [...doc.items];
    items.splice(place + 1, 0, { ...structuredClone(items[place]), id: freshId() });
    return put(doc, items);
  }

  const remove = (doc, id) => (at(doc, id) < 0 ? null : put(doc, doc.items.filter((item) => item.id !== id)));
  const toggle = (doc, id, name) => (at(doc, id) < 0 ? null : set(doc, id, { [name]: !doc.items[at(doc, id)][name] }));

  const setParams = (doc, id, values) => set(doc, id, { params: { ...doc.items[at(doc, id)].params, ...values } });

  /** What the open panel says of its item; a word that is no number or note is told. */
  function panel(doc, form, target, tell) {
    const id = form.dataset.panel;
    const item = doc.items[at(doc, id)];
    const { name, value } = target;
    if (target.hasAttribute("data-number") && value.trim() && Number.isNaN(numbers(value)[0])) {
      tell(`“${value}” is not a number.`);
      return null;
    }
    if (name.startsWith("param:")) return setParams(doc, id, { [name.slice(6)]: numbers(value)[0] });
    if (name.startsWith("limit:")) return set(doc, id, { limits: { ...item.limits, [name.slice(6)]: value.trim() ? numbers(value)[0] : null } });
    if (name === "rung") {
      const ladder = page.ladders[page.task_ladders[item.task]];
      return setParams(doc, id, { [ladder.changes]: ladder.rungs[Number(value)] });
    }
    if (name === "notes") {
      const notes = value.split(/\s+/).filter(Boolean).map(midiOf);
      if (notes.some(Number.isNaN)) {
        tell(`“${value}” does not name notes: type F3, B♭4 or C#3, with spaces between.`);
        return null;
      }
      return set(doc, id, { notes });
    }
    if (name === "swap") return value ? swap(doc, id, value) : null;
    const said = {
      sets: () => Math.round(numbers(value)[0] || 1),
      row: () => numbers(value),
      floor: () => (value.trim() ? numbers(value)[0] : null),
      ceiling: () => (value.trim() ? numbers(value)[0] : null),
      lines: () => value.split("\n").map((line) => line.trim()).filter(Boolean),
    }[name];
    if (target.type === "checkbox") return set(doc, id, { [name]: target.checked });
    return set(doc, id, { [name]: said ? said() : value });
  }

  /** Another task in its place: a slot of its own, for results are kept apart by task. */
  function swap(doc, id, code) {
    const item = doc.items[at(doc, id)];
    const fresh = structuredClone(tasks.get(code).item);
    const seconds = item.params.seconds && fresh.params.seconds ? { seconds: item.params.seconds } : {};
    const kept = { sets: item.sets, notes: item.notes, counts: item.counts, short: item.short, sip: item.sip };
    const made = { ...fresh, ...kept, params: { ...fresh.params, ...seconds }, id: freshId() };
    return put(doc, doc.items.map((each) => (each.id === id ? made : each)));
  }

  function dose(doc, form) {
    const data = new FormData(form);
    const weekdays = data.getAll("weekdays").map(Number);
    const off = data.get("off").split(/[\s,;]+/).filter(Boolean);
    return {
      ...doc,
      sort: data.get("sort"),
      school: data.get("school"),
      daily_for_life: data.has("daily_for_life"),
      dose: {
        ...doc.dose, kind: data.get("kind"), start: data.get("start"), a_day: Number(data.get("a_day")),
        weeks: Number(data.get("weeks")), weekdays, off, trigger: data.get("trigger"),
      },
      practice: {
        tired: data.get("tired"), hoarse: data.get("hoarse"), ill: data.get("ill"), medication: data.has("medication"),
      },
    };
  }

  /** A finding's own remedy. */
  function fix(doc, { do: what, item, value }) {
    const seconds = (each) => {
      const name = ["held_s", "pant_s"].find((each_name) => each_name in each.params) ?? "seconds";
      return { params: { ...each.params, [name]: value }, row: [] };
    };
    const found = doc.items[at(doc, item)];
    return {
      remove: () => remove(doc, item),
      set_seconds: () => set(doc, item, seconds(found)),
      set_notes: () => set(doc, item, { notes: value }),
      set_ceiling: () => set(doc, item, { ceiling: value }),
      drop_floor: () => set(doc, item, { floor: null }),
      sip_after: () => set(doc, item, { sip: true }),
      move_last: () => put(doc, [...doc.items.filter((each) => each.id !== item), found]),
      move_first: () => moveTo(doc, item, (doc.items.find((each) => page.loud.includes(each.task)) ?? doc.items[0]).id),
      add_task: () => addBeside(doc, item, value),
      mark_short: () => set(doc, value, { short: true }),
      drop_day: () => ({ ...doc, dose: { ...doc.dose, weekdays: doc.dose.weekdays.filter((day) => day !== value) } }),
    }[what]?.();
  }

  /** Cool-down goes to the end, warming before the task that wants it. */
  function addBeside(doc, item, code) {
    const [next, id] = add(doc, code, doc.items.at(-1).id);
    return tasks.get(code).cools ? next : moveTo(next, id, item);
  }

  return { add, dose, duplicate, fix, move, moveTo, panel, remove, setParams, toggle };
}
