# Shared by all commands: words to the person, checks of the machine, stamps that save work.

RUN="$ROOT/.run"
export DOTNET_CLI_TELEMETRY_OPTOUT=1 DOTNET_NOLOGO=1 DOTNET_SKIP_FIRST_TIME_EXPERIENCE=1 NPM_CONFIG_UPDATE_NOTIFIER=false

say() { printf '%s\n' "$*"; }
step() { printf '%s ' "- $*"; STEP_AT=$SECONDS; }
step_done() { printf 'done (%s s)\n' "$((SECONDS - STEP_AT))"; }
die() { printf '\n%s\n' "$*" >&2; exit 1; }

# Runs a command with its output in a log; on failure shows the log's end.
logged() {
  local log="$RUN/log/$1.log"
  shift
  mkdir -p "$RUN/log"
  if ! "$@" >"$log" 2>&1; then
    printf '\n' >&2
    tail -n 40 "$log" >&2
    die "That step failed; its whole output is in $log."
  fi
}

need() { command -v "$1" >/dev/null 2>&1 || die "$2"; }

check_machine() {
  need dotnet "The .NET 10 SDK is missing: install it, then run this again."
  need node "Node 20 or newer is missing: install it, then run this again."
  need npm "npm is missing: it comes with Node 20."
  dotnet --version 2>/dev/null | grep -q '^10\.' || die "The .NET SDK found is not version 10: install the .NET 10 SDK, then run this again."
  [ "$(node -p 'process.versions.node.split(".")[0]')" -ge 20 ] || die "Node is older than 20: install Node 20 or newer, then run this again."
  mkdir -p "$RUN" 2>/dev/null || die "The folder $RUN cannot be written: check its owner."
  local free_mb
  free_mb=$(df -Pm "$RUN" | awk 'NR==2 {print $4}')
  [ "$free_mb" -ge 1500 ] || die "The disk is nearly full: $free_mb MB are free and 1500 MB are needed."
}

# Installs Debian packages that are not there yet.
install_packages() {
  local missing=()
  for package in "$@"; do
    dpkg -s "$package" 2>/dev/null | grep -q '^Status: install ok installed' || missing+=("$package")
  done
  [ ${#missing[@]} -eq 0 ] && return
  command -v apt-get >/dev/null 2>&1 || die "These packages are missing and there is no apt-get to install them: ${missing[*]}."
  local as=()
  if [ "$(id -u)" -ne 0 ]; then
    sudo -n true 2>/dev/null || die "These packages are missing: ${missing[*]}. Ask an administrator to run: apt-get install ${missing[*]}"
    as=(sudo -n)
  fi
  step "installing ${missing[*]}"
  logged apt-update "${as[@]}" apt-get update -q
  # Debian would start a cluster of its own on installation; ours is the only one wanted.
  if [ "$(id -u)" -eq 0 ] && [ ! -e /etc/postgresql-common/createcluster.conf ]; then
    mkdir -p /etc/postgresql-common
    echo 'create_main_cluster = false' >/etc/postgresql-common/createcluster.conf
  fi
  logged apt-install "${as[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends "${missing[@]}"
  step_done
}

# A stamp is the hash of what a step was made from; an unchanged one saves the step.
hash_of() { find "$@" -type f ! -path '*/node_modules/*' ! -path '*/bin/*' ! -path '*/obj/*' ! -path '*/wwwroot/*' -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -c1-32; }
is_fresh() { [ "$(cat "$RUN/stamp/$1" 2>/dev/null)" = "$2" ]; }
stamp() { mkdir -p "$RUN/stamp"; printf '%s' "$2" >"$RUN/stamp/$1"; }

port_taken() { (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }

is_running() { [ -n "${1:-}" ] && [ -r "/proc/$1/stat" ] && [ "$(awk '{print $3}' "/proc/$1/stat" 2>/dev/null)" != Z ]; }
