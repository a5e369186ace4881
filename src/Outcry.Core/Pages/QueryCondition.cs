namespace Outcry.Core.Pages;

/// <summary>A condition on one query parameter.</summary>
/// <param name="Key">Parameter name; case is ignored.</param>
/// <param name="Value">Wanted value, case ignored; null when the parameter need only be there.</param>
public sealed record QueryCondition(string Key, string? Value)
{
    /// <summary>Whether the page's query has the parameter, with the wanted value if one is wanted.</summary>
    public bool Holds(PageAddress page) =>
        page.Query.TryGetValue(Key, out var found)
        && (Value is null || string.Equals(found, Value, StringComparison.OrdinalIgnoreCase));

    internal static QueryCondition[] ReadAll(string query) =>
        [.. query.Split('&', StringSplitOptions.RemoveEmptyEntries).Select(Read)];

    private static QueryCondition Read(string part)
    {
        var equals = part.IndexOf('=', StringComparison.Ordinal);
        return equals < 0
            ? new QueryCondition(Decoded(part), null)
            : new QueryCondition(Decoded(part[..equals]), Decoded(part[(equals + 1)..]));
    }

    // In a query "+" is a space, as forms write it (URL standard, application/x-www-form-urlencoded); so pages are read too.
    private static string Decoded(string part) => Uri.UnescapeDataString(part.Replace('+', ' '));
}
