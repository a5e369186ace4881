using System.Text.Json;

namespace Outcry.Bench;

/// <summary>One measured figure beside its baseline.</summary>
/// <param name="Name">What was measured.</param>
/// <param name="Value">The figure.</param>
/// <param name="Unit">Its unit.</param>
/// <param name="Baseline">The baseline's figure in the same unit; null where there is none.</param>
/// <param name="Ratio">Median of the rounds' ratios, or value by baseline.</param>
/// <param name="Spread">Least and greatest of the rounds, in words.</param>
internal sealed record Figure(string Name, double Value, string Unit, double? Baseline, double? Ratio, string Spread)
{
    /// <summary>Appends the figure to a file of JSON lines, which the script gathers.</summary>
    public void Append(string file) =>
        File.AppendAllText(file, JsonSerializer.Serialize(this, JsonSerializerOptions.Web) + "\n");

    public static double Median(IEnumerable<double> values)
    {
        var sorted = values.Order().ToList();
        return sorted.Count % 2 == 1
            ? sorted[sorted.Count / 2]
            : (sorted[sorted.Count / 2 - 1] + sorted[sorted.Count / 2]) / 2;
    }
}
