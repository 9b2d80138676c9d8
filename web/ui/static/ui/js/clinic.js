// What every clinician's page does; a page's own script begins with it.

import "./keys.js";
import "./unsaved.js";
