using Outcry.Standins.Outside;
using Outcry.Standins.Seed;
using Outcry.Standins.Site;

namespace Outcry.Standins;

/// <summary>The simulated outside world: "site" serves the demo shop and what else is out there, "seed" fills an empty database with its past, "places" writes a places table.</summary>
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
            case "places":
                await File.WriteAllBytesAsync(args[1], PlacesTable.Write(PlacesTable.Documentation));
                return 0;
            default:
                await Console.Error.WriteLineAsync("Say what to do: site, seed or places FILE.");
                return 2;
        }
    }
}
