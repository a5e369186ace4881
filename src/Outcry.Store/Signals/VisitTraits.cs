using System.Text.Json;
using System.Text.Json.Serialization;

namespace Outcry.Store.Signals;

/// <summary>What is kept of a visit beside its pages, with its first page view: whatever a replay or a segment may ask of it.</summary>
/// <param name="Languages">The browser's languages, BCP 47, the most wanted first; three at most.</param>
/// <param name="Country">Where the visitor was, as far as the network told; empty when unknown.</param>
/// <param name="Region">The same, finer.</param>
/// <param name="City">The same, finest.</param>
/// <param name="Referrer">Host of the page that led here; empty for none.</param>
/// <param name="Campaign">Campaign parameters by name, without "utm_".</param>
public sealed record VisitTraits(
    IReadOnlyList<string> Languages,
    string Country,
    string Region,
    string City,
    string Referrer,
    IReadOnlyDictionary<string, string> Campaign
)
{
    /// <summary>Languages kept at most.</summary>
    public const int MostLanguages = 3;

    /// <summary>Written as JSON.</summary>
    public string Write() => JsonSerializer.Serialize(this, VisitTraitsJson.Default.VisitTraits);

    /// <summary>Read from JSON that <see cref="Write"/> wrote.</summary>
    /// <exception cref="JsonException">It is something else.</exception>
    public static VisitTraits Read(string json) =>
        JsonSerializer.Deserialize(json, VisitTraitsJson.Default.VisitTraits)
            is {
                Languages: not null,
                Country: not null,
                Region: not null,
                City: not null,
                Referrer: not null,
                Campaign: not null
            } read
        && read.Languages.All(l => l is not null)
            ? read
            : throw new JsonException("The traits of a visit are not whole.");
}

[JsonSourceGenerationOptions(JsonSerializerDefaults.Web)]
[JsonSerializable(typeof(VisitTraits))]
internal sealed partial class VisitTraitsJson : JsonSerializerContext;
