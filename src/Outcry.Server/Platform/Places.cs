using System.Net;
using MaxMind.Db;
using Outcry.Core.Evidence;

namespace Outcry.Server.Platform;

/// <summary>Where a network address is from, by a places table in the open MMDB format. The address is used once and never kept.</summary>
internal sealed partial class Places : IDisposable
{
    private readonly Reader? _table;

    public Places(IConfiguration configuration, ILogger<Places> log)
    {
        var file = configuration["Places:File"];
        if (string.IsNullOrEmpty(file))
            return;
        try
        {
            _table = new Reader(file);
        }
        catch (Exception bad) when (bad is IOException or InvalidDatabaseException or UnauthorizedAccessException)
        {
            // Without places everything works, only no place is said.
            Unreadable(log, file, bad);
        }
    }

    /// <summary>The place, as finely as the table knows it; unknown for private addresses and without a table.</summary>
    public Place Find(IPAddress? address)
    {
        if (_table is null || address is null)
            return Place.Unknown;
        var found = _table.Find<Dictionary<string, object>>(address.IsIPv4MappedToIPv6 ? address.MapToIPv4() : address);
        return found is null
            ? Place.Unknown
            : new Place(Name(found, "city"), Name(First(found, "subdivisions"), "names"), Name(found, "country"));
    }

    public void Dispose() => _table?.Dispose();

    private static Dictionary<string, object>? First(Dictionary<string, object> found, string list) =>
        found.GetValueOrDefault(list) is IEnumerable<object> items
            ? items.OfType<Dictionary<string, object>>().FirstOrDefault()
            : null;

    // { "city": { "names": { "en": "Leeds" } } }; a subdivision is already the inner part.
    private static string Name(Dictionary<string, object>? at, string part)
    {
        var inner = at?.GetValueOrDefault(part) as Dictionary<string, object>;
        var names = part == "names" ? inner : inner?.GetValueOrDefault("names") as Dictionary<string, object>;
        return names?.GetValueOrDefault("en") as string ?? "";
    }

    [LoggerMessage(1201, LogLevel.Error, "The places table {File} cannot be read; no place will be said")]
    private static partial void Unreadable(ILogger log, string file, Exception bad);
}
