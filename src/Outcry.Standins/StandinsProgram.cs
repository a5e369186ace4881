using Outcry.Standins.Seed;
using Outcry.Standins.Site;

namespace Outcry.Standins;

/// <summary>The simulated outside world: "site" serves the demo shop, "seed" fills an empty database with its past.</summary>
internal static class StandinsProgram
{
    public static async Task<int> Main(string[] args)
    {
        switch (args.FirstOrDefault())
        {
            case "site":
                await DemoSite.Build(args[1..]).RunAsync();
                return 0;
            case "seed":
                return await SeedCommand.RunAsync(args[1..]);
            default:
                await Console.Error.WriteLineAsync("Say what to do: site or seed.");
                return 2;
        }
    }
}
