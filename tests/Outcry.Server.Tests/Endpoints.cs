using System.Net.Http.Json;
using System.Text.Json;
using System.Text.RegularExpressions;

namespace Outcry.Server.Tests;

/// <summary>One thing the desk can be asked.</summary>
/// <param name="Address">Its address, with everything filled in.</param>
/// <param name="Path">The address as the description of the interface has it.</param>
internal sealed record Endpoint(HttpMethod Method, string Address, string Path);

/// <summary>Everything the desk can be asked, as its own description lists it.</summary>
internal static partial class Endpoints
{
    /// <summary>Every endpoint; what is named in braces is replaced by what is known, or by the id of nothing.</summary>
    public static async Task<IReadOnlyList<Endpoint>> OfAsync(TestDesk desk, Dictionary<string, string> known)
    {
        var document = await desk.Anonymous().GetFromJsonAsync<JsonElement>("/openapi/v1.json");
        return
        [
            .. from path in document.GetProperty("paths").EnumerateObject()
            from method in path.Value.EnumerateObject()
            where method.Name is "get" or "post" or "put" or "delete" or "patch"
            select new Endpoint(
                new HttpMethod(method.Name.ToUpperInvariant()),
                Braces().Replace(path.Name, m => known.GetValueOrDefault(m.Groups[1].Value, $"{Guid.NewGuid()}"))
                    + (path.Name.EndsWith("rehearsal", StringComparison.Ordinal) ? "?path=/" : ""),
                path.Name
            ),
        ];
    }

    [GeneratedRegex(@"\{(\w+)\}")]
    private static partial Regex Braces();
}
