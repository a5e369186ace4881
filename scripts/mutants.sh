# Holds the tests to account: Stryker changes the code of one folder of the core, and each change should fail a test.

mutants_command() {
  local folder=${1:-}
  [ -n "$folder" ] && [ -d "$ROOT/src/Outcry.Core/$folder" ] || die "Name a folder of src/Outcry.Core, such as Timing."
  build_packages
  dotnet tool restore >/dev/null
  # The laws take their cases anew at each run; one seed for all runs lets a change be told from luck.
  (
    cd "$ROOT/tests/Outcry.Core.Tests"
    OUTCRY_ROOT="$ROOT" OUTCRY_FEW_CASES=1 CsCheck_Seed=0000000000000 dotnet stryker --project Outcry.Core.csproj --mutate "**/$folder/*.cs" \
      --test-runner mtp --configuration Release --reporter cleartext --reporter json --output "$RUN/mutants/$folder" \
      --verbosity error --break-at 0
  )
}
