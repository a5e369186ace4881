namespace Outcry.Bench;

/// <summary>Measures the budgets, each beside its baseline in the same run.</summary>
internal static class BenchProgram
{
    public static async Task<int> Main(string[] args)
    {
        switch (args.FirstOrDefault())
        {
            case "empty":
                await EmptyEndpoint.RunAsync(
                    args[1],
                    int.Parse(args[2], System.Globalization.CultureInfo.InvariantCulture)
                );
                return 0;
            case "site":
                await LoadedSite.RunAsync(args[1]);
                return 0;
            case "plan":
                PlanningBenchmarks.Run(args[1]);
                return 0;
            case "replay":
                ReplayBench.Run(args[1]);
                return 0;
            case "absorb":
                AbsorbBench.Run(args[1]);
                return 0;
            case "signals":
                await SignalIntake.RunAsync(args[1], args[2]);
                return 0;
            case "run-sheet":
                await RunSheetBench.RunAsync(args[1], args[2]);
                return 0;
            case "echo":
                await TalkBench.EchoAsync(args[1]);
                return 0;
            case "talks":
                await TalkBench.RunAsync(args[1], args[2], args[3], args[4], args[5], args[6]);
                return 0;
            case "people":
                await PeopleBench.RunAsync(args[1], args[2]);
                return 0;
            case "ledger":
                await LedgerBench.RunAsync(args[1], args[2]);
                return 0;
            default:
                await Console.Error.WriteLineAsync("Use ./outcry bench.");
                return 2;
        }
    }
}
