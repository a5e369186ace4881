# Refreshes docs/screenshots from the demo data.

shots_command() {
  install_packages chromium chromium-driver
  demo_runs || die "Start the demo first: ./outcry demo --background --reset"
  demo_status --json >"$RUN/status.json"
  node scripts/shots.mjs "$RUN/status.json"
}
