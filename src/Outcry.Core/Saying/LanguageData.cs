using System.Text.Json;

namespace Outcry.Core.Saying;

/// <summary>The part of the Unicode CLDR that is shipped: see scripts/make-language-data.mjs.</summary>
internal sealed record LanguageData(
    string Source,
    IReadOnlyDictionary<string, IReadOnlyDictionary<string, string>> Plurals,
    IReadOnlyDictionary<string, IReadOnlyDictionary<string, JsonElement>> Ago
)
{
    /// <summary>As shipped with this version.</summary>
    public static LanguageData Shipped { get; } = Read<LanguageData>("language-data.json");

    /// <summary>Reads a JSON file that lies in this assembly.</summary>
    public static T Read<T>(string file)
    {
        using var stream =
            typeof(LanguageData).Assembly.GetManifestResourceStream($"Outcry.Core.Saying.{file}")
            ?? throw new InvalidOperationException($"{file} is not in the assembly.");
        return JsonSerializer.Deserialize<T>(stream, JsonSerializerOptions.Web)!;
    }
}
