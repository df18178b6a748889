// Loading all of the library takes longer than most tests: each component is loaded when it is asked for.
const loaded = new Map();
module.exports = new Proxy(
  {},
  {
    get(_none, name) {
      if (!loaded.has(name)) {
        const styles = require('@mui/material/styles');
        loaded.set(name, name in styles ? styles[name] : require(`@mui/material/${name}`).default);
      }
      return loaded.get(name);
    },
  },
);
