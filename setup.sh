# Sets up what Fexro needs; sourced by ./run and ./test.
# setup LOCK PACKAGE...   a .venv with the dependencies of requirements/LOCK.lock, and the Debian
# packages named. Nothing is done again as long as lock and project file stay the same.

export PIP_DISABLE_PIP_VERSION_CHECK=1

say() { printf '%s\n' "$*" >&2; }

missing_packages() {
    for package in "$@"; do
        dpkg-query -W -f '${Status}' "$package" 2>/dev/null | grep -q 'install ok installed' ||
            printf '%s ' "$package"
    done
}

# apt-get, waiting while another program holds the lock of packages; says so once.
PATIENCE=${FEXRO_APT_PATIENCE:-600}  # seconds
apt() {
    local said='' waited=0 output
    while ! output=$(DEBIAN_FRONTEND=noninteractive LC_ALL=C apt-get "$@" 2>&1); do
        case $output in
            *'Could not get lock'* | *'Unable to acquire the dpkg frontend lock'* | *'Unable to lock'*) ;;
            *) say "$output"; return 1 ;;
        esac
        if [ "$waited" -ge "$PATIENCE" ]; then
            say "Another program still installs packages after $PATIENCE s. Start again later."
            return 1
        fi
        [ -n "$said" ] || say "Another program installs packages; waiting for it (at most $PATIENCE s)."
        said=yes
        sleep 3
        waited=$((waited + 3))
    done
}

install_packages() {
    command -v dpkg-query >/dev/null || return 0
    local missing
    missing=$(missing_packages "$@")
    [ -n "$missing" ] || return 0
    if [ "$(id -u)" -eq 0 ]; then
        say "Fexro needs system packages. As root, this now runs:"
        say "    apt-get update && apt-get install -y $missing"
        # shellcheck disable=SC2086
        apt -qq update && apt -qq install -y $missing
    else
        say "Fexro needs these system packages. Run, then start again:"
        say "    sudo apt-get install -y $missing"
        return 1
    fi
}

find_python() {
    for name in python3 python3.14 python3.13 python3.12 python3.11; do
        if command -v "$name" >/dev/null &&
            "$name" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
            command -v "$name"
            return 0
        fi
    done
    return 1
}

setup() {
    local lock=$1
    shift
    local stamp=.venv/.set-up-$lock want
    want=$(cat "requirements/build.lock" "requirements/$lock.lock" pyproject.toml | sha256sum)
    [ -x .venv/bin/python ] && [ "$(cat "$stamp" 2>/dev/null)" = "$want" ] && return 0

    install_packages "$@" || return 1
    if [ ! -x .venv/bin/python ]; then
        local python
        if ! python=$(find_python); then
            install_packages python3 python3-venv && python=$(find_python) ||
                { say "Fexro needs Python 3.11 or newer."; return 1; }
        fi
        if ! "$python" -c 'import ensurepip' 2>/dev/null; then
            install_packages python3-venv || return 1
        fi
        say "Making .venv"
        "$python" -m venv .venv || return 1
    fi
    say "Installing pinned dependencies"
    .venv/bin/python -m pip install -q --require-hashes -r requirements/build.lock -r "requirements/$lock.lock" >&2 ||
        return 1
    .venv/bin/python -m pip install -q --no-deps --no-build-isolation -e . >&2 || return 1
    printf '%s\n' "$want" >"$stamp"
}

QT_PACKAGES="libgl1 libegl1 libdbus-1-3 libfontconfig1 libxkbcommon0 libxkbcommon-x11-0
    libxcb-cursor0 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0
    libxcb-shape0 libxcb-shm0 libxcb-sync1 libxcb-xfixes0 libxcb-xkb1"
