using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using NodaTime;
using NodaTime.Serialization.SystemTextJson;

namespace Outcry.Store;

/// <summary>Keeps a value as one jsonb column, for definitions that are read and written whole.</summary>
public static class JsonColumn
{
    /// <summary>How stored JSON is spelt; it matches the API so that an export reads like a request.</summary>
    public static JsonSerializerOptions Options { get; } =
        new JsonSerializerOptions(JsonSerializerDefaults.Web)
        {
            Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
            // jsonb keeps keys in an order of its own, so what tells the parts of a rule apart need not come first.
            AllowOutOfOrderMetadataProperties = true,
        }.ConfigureForNodaTime(DateTimeZoneProviders.Tzdb);

    internal static PropertyBuilder<T> IsJson<T>(this PropertyBuilder<T> property)
    {
        property.HasColumnType("jsonb");
        property.HasConversion(
            value => JsonSerializer.Serialize(value, Options),
            text => JsonSerializer.Deserialize<T>(text, Options)!,
            new ValueComparer<T>(
                (a, b) => JsonSerializer.Serialize(a, Options) == JsonSerializer.Serialize(b, Options),
                v => JsonSerializer.Serialize(v, Options).GetHashCode(StringComparison.Ordinal),
                v => JsonSerializer.Deserialize<T>(JsonSerializer.Serialize(v, Options), Options)!
            )
        );
        return property;
    }

    internal static PropertyBuilder<KeptContent> IsKeptContent(this PropertyBuilder<KeptContent> property)
    {
        property.HasColumnType("jsonb");
        property.HasConversion(content => content.Json, json => new KeptContent(json));
        return property;
    }
}
