// What was typed and refused stands there again: a refusal is said on the page that comes next, whose form is new. Kept in
// this tab until that page is there, never a password or a file. Without scripts the sentence is all there is.

const KEPT = "zenrik-typed";
const FOR_MS = 60_000;
const NOT_TYPED = ["hidden", "password", "file", "submit", "button"];

const fields = (form) => [...form.elements].filter((f) => f.name && !NOT_TYPED.includes(f.type));
const hidden = (form) => [...form.elements].filter((f) => f.type === "hidden" && f.name).map((f) => `${f.name}=${f.value}`);

document.addEventListener("submit", (event) => {
  const form = event.target;
  if (form.method !== "post") return;
  const typed = fields(form).map((f) => ({ name: f.name, value: f.value, checked: f.checked }));
  try {
    sessionStorage.setItem(KEPT, JSON.stringify({ action: form.action, of: hidden(form), typed, at: Date.now() }));
  } catch {
    sessionStorage.removeItem(KEPT); // More than a tab may keep.
  }
});

const last = JSON.parse(sessionStorage.getItem(KEPT) ?? "null");
sessionStorage.removeItem(KEPT);
if (last && Date.now() - last.at < FOR_MS && document.querySelector("#notice [role=alert]")) {
  // A page may have many forms for the same act: that of the same machine, person or line says so in what it hides.
  const alike = (form) => hidden(form).filter((value) => last.of.includes(value)).length;
  const same = (form) => fields(form).length === last.typed.length && fields(form).every((f, i) => f.name === last.typed[i].name);
  const again = [...document.forms]
    .filter((form) => form.method === "post" && form.action === last.action && same(form))
    .sort((a, b) => alike(b) - alike(a))[0];
  if (again) {
    // What somebody quicker than this script has typed meanwhile stands.
    const meanwhile = (field) => field.defaultValue !== undefined && field.value !== field.defaultValue;
    fields(again).forEach((field, i) => {
      if (meanwhile(field)) return;
      if (field.type === "checkbox" || field.type === "radio") field.checked = last.typed[i].checked;
      else field.value = last.typed[i].value;
    });
    for (let around = again.closest("details"); around; around = around.parentElement.closest("details")) around.open = true;
  }
}
