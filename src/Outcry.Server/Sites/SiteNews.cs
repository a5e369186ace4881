using Microsoft.AspNetCore.SignalR;
using Npgsql;
using Outcry.Server.Live;

namespace Outcry.Server.Sites;

/// <summary>What of a site has changed.</summary>
internal enum SiteChange
{
    /// <summary>Callouts, rules or sources: the site must be compiled anew.</summary>
    Definition,

    /// <summary>An event came into the ledger.</summary>
    Event,

    /// <summary>The snippet spoke up.</summary>
    Heard,

    /// <summary>Figures of callouts have moved.</summary>
    Figures,

    /// <summary>An import has gone on.</summary>
    Imports,

    /// <summary>A delivery was noted, whatever became of it.</summary>
    Delivery,

    /// <summary>An element of the site's page was pointed at.</summary>
    Pointed,
}

/// <summary>Tells everybody who must know of a change: this node's memory, the other nodes, and the desks that are open.</summary>
internal sealed class SiteNews(LiveSites sites, NpgsqlDataSource source, IHubContext<DeskHub> desks)
{
    public const string Channel = "outcry_site";

    /// <summary>This node's own name, so that it does not act on its own news twice.</summary>
    public static string NodeName { get; } = Guid.NewGuid().ToString("N")[..12];

    /// <summary>Tells of a change that this node has already committed.</summary>
    public async Task TellAsync(Guid siteId, SiteChange change, Guid? subject, CancellationToken stop)
    {
        if (change == SiteChange.Definition)
            await sites.ReloadAsync(siteId, stop);
        await using (var command = source.CreateCommand("select pg_notify($1, $2)"))
        {
            command.Parameters.AddWithValue(Channel);
            command.Parameters.AddWithValue($"{NodeName}|{siteId}|{change}|{subject}");
            await command.ExecuteNonQueryAsync(stop);
        }
        await TellDesksAsync(siteId, change, stop);
    }

    /// <summary>Tells of what is news only: while the database is away nobody is told, and whoever asked is served all the same.</summary>
    public async Task TryTellAsync(Guid siteId, SiteChange change, CancellationToken stop)
    {
        try
        {
            await TellAsync(siteId, change, null, stop);
        }
        catch (NpgsqlException)
        {
            // Desks ask again by themselves.
        }
    }

    /// <summary>Takes up news of another node.</summary>
    public async Task TakeUpAsync(string payload, CancellationToken stop)
    {
        var parts = payload.Split('|');
        if (parts.Length != 4 || parts[0] == NodeName || !Guid.TryParse(parts[1], out var siteId))
            return;
        if (!Enum.TryParse<SiteChange>(parts[2], out var change))
            return;
        if (change == SiteChange.Definition)
            await sites.ReloadAsync(siteId, stop);
        else if (change == SiteChange.Event && Guid.TryParse(parts[3], out var eventId))
            await sites.FetchEventAsync(siteId, eventId, stop);
        await TellDesksAsync(siteId, change, stop);
    }

    private Task TellDesksAsync(Guid siteId, SiteChange change, CancellationToken stop) =>
        desks.Clients.Group(DeskHub.GroupOf(siteId)).SendAsync("changed", change.ToString().ToLowerInvariant(), stop);
}
