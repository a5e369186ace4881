# Builds desk, snippet and host, each only when something it is made from has changed.

DESK_DLL="$ROOT/src/Outcry.Server/bin/Release/net10.0/Outcry.Server.dll"
STANDINS_DLL="$ROOT/src/Outcry.Standins/bin/Release/net10.0/Outcry.Standins.dll"

build_packages() {
  local lock
  lock=$(sha256sum web/package-lock.json | cut -c1-32)
  if ! { [ -d web/node_modules ] && is_fresh npm "$lock"; }; then
    step "fetching web packages"
    logged npm-ci npm --prefix web ci --ignore-scripts --no-audit --no-fund
    stamp npm "$lock"
    step_done
  fi
}

build_web() {
  build_packages
  local made
  # The guide is shipped with the desk.
  made=$(hash_of web docs/guide*.md)
  if ! { [ -s src/Outcry.Server/wwwroot/index.html ] && is_fresh web "$made"; }; then
    step "building desk and snippet"
    logged web-build npm --prefix web run build
    stamp web "$made"
    step_done
  fi
  mkdir -p src/Outcry.Standins/wwwroot/fonts
  cp -u web/node_modules/@fontsource-variable/petrona/files/petrona-latin-wght-*.woff2 src/Outcry.Standins/wwwroot/fonts/
}

# All of it compiled beforehand, with the framework in one piece: it takes minutes, and the host is ready in about half the time.
publish_host() {
  local arch=x64
  [ "$(uname -m)" = x86_64 ] || arch=arm64
  step "publishing to $1"
  logged publish dotnet publish src/Outcry.Server -c Release -r "linux-$arch" --self-contained -o "$1" -v q \
    -p:PublishReadyToRun=true -p:PublishReadyToRunComposite=true -p:OpenApiGenerateDocuments=false -p:OpenApiGenerateDocumentsOnBuild=false
  step_done
}

build_host() {
  local made
  made=$(hash_of src demo web/package-lock.json Directory.Build.props Directory.Packages.props global.json .editorconfig)
  if ! { [ -s "$STANDINS_DLL" ] && is_fresh host "$made"; }; then
    step "building the host"
    logged dotnet-build dotnet build src/Outcry.Standins -c Release -v q
    stamp host "$made"
    step_done
  fi
}
