// The token that a form is sent with. It is read each time: signing in again in another tab changes it.

const cookie = (name) =>
  document.cookie
    .split("; ")
    .find((each) => each.startsWith(`${name}=`))
    ?.slice(name.length + 1);

/** The cookie's own, or else that of the page. */
export const csrfToken = () =>
  cookie("csrftoken") ?? document.querySelector("[name=csrfmiddlewaretoken]")?.value ?? "";
