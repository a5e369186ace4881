using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using Outcry.Store;

namespace Outcry.Server.Moving;

/// <summary>The shape of a bundle as a JSON Schema (2020-12), shipped in docs/bundle.schema.json.</summary>
internal static class BundleSchema
{
    private static readonly JsonSerializerOptions Indented = new() { WriteIndented = true, IndentSize = 1 };

    public static string Write()
    {
        var schema = JsonColumn.Options.GetJsonSchemaAsNode(typeof(Bundle)).AsObject();
        var whole = new JsonObject
        {
            ["$schema"] = "https://json-schema.org/draft/2020-12/schema",
            ["title"] = $"{Bundle.Name}, version {Bundle.Newest}",
        };
        foreach (var (name, part) in schema)
            whole[name] = part?.DeepClone();
        return whole.ToJsonString(Indented) + "\n";
    }
}
