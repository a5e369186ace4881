using Npgsql;
using Outcry.Server.Platform;

namespace Outcry.Server.Sites;

/// <summary>What of a site has changed.</summary>
internal enum SiteChange
{
    /// <summary>Callouts, rules or sources: the site must be compiled anew.</summary>
    Definition,

    /// <summary>Somebody was erased: what memory holds of visitors is to be forgotten, and the site compiled anew.</summary>
    Erased,

    /// <summary>An event came into the ledger.</summary>
    Event,

    /// <summary>The snippet spoke up.</summary>
    Heard,

    /// <summary>Somebody said yes to a prompt, confirmed it or took it back; the subject is the lead.</summary>
    Gave,

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
internal sealed class SiteNews(LiveSites sites, NpgsqlDataSource source, IOpenDesks desks, LoopWatch watch)
{
    public const string Channel = "outcry_site";

    /// <summary>This node's own name, so that it does not act on its own news twice.</summary>
    public static string NodeName { get; } = Guid.NewGuid().ToString("N")[..12];

    /// <summary>What this node's news begin with.</summary>
    public static string From { get; } = $"{NodeName}|";

    /// <summary>Tells the desks on this node of a change whose news went out with its commit.</summary>
    public async Task TellHereAsync(Guid siteId, SiteChange change)
    {
        try
        {
            await TellDesksAsync(siteId, change, CancellationToken.None);
        }
        catch (Exception failure)
        {
            watch.PassedOver("news of a change", failure);
        }
    }

    /// <summary>Tells of a change that this node has already committed.</summary>
    /// <remarks>
    /// Committed is committed: whoever asked for it is told so, whether or not they still wait for the answer and whatever
    /// befalls the news. Desks ask again by themselves, and a line to the database that broke is made up for when it is back.
    /// </remarks>
    public async Task TellAsync(Guid siteId, SiteChange change, Guid? subject = null)
    {
        try
        {
            await ApplyAsync(siteId, change, CancellationToken.None);
            if (change == SiteChange.Gave && subject is { } lead)
                await sites.FetchLeadAsync(siteId, lead, CancellationToken.None);
            await using (var command = source.CreateCommand("select pg_notify($1, $2)"))
            {
                command.Parameters.AddWithValue(Channel);
                command.Parameters.AddWithValue($"{From}{siteId}|{change}|{subject}");
                await command.ExecuteNonQueryAsync();
            }
            await TellDesksAsync(siteId, change, CancellationToken.None);
        }
        catch (Exception failure)
        {
            watch.PassedOver("news of a change", failure);
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
        await ApplyAsync(siteId, change, stop);
        if (change == SiteChange.Event && Guid.TryParse(parts[3], out var eventId))
            await sites.FetchEventAsync(siteId, eventId, stop);
        if (change == SiteChange.Gave && Guid.TryParse(parts[3], out var leadId))
            await sites.FetchLeadAsync(siteId, leadId, stop);
        await TellDesksAsync(siteId, change, stop);
    }

    /// <summary>Raised when somebody was erased, here or on another node.</summary>
    public event Action<Guid>? Erased;

    private async Task ApplyAsync(Guid siteId, SiteChange change, CancellationToken stop)
    {
        if (change == SiteChange.Erased)
            Erased?.Invoke(siteId);
        if (change is SiteChange.Definition or SiteChange.Erased)
            await sites.ReloadAsync(siteId, stop);
    }

    private Task TellDesksAsync(Guid siteId, SiteChange change, CancellationToken stop) =>
        desks.TellAsync(siteId, Word(change), stop);

    // An open desk asks for the same things anew after either.
    private static string Word(SiteChange change) =>
        (change == SiteChange.Erased ? SiteChange.Definition : change).ToString().ToLowerInvariant();
}

/// <summary>The desks that are open on this node.</summary>
internal interface IOpenDesks
{
    /// <summary>Tells those that follow a site that something changed.</summary>
    Task TellAsync(Guid siteId, string what, CancellationToken stop);
}

/// <summary>Somebody else who takes up what other nodes tell, on a channel of its own.</summary>
internal interface INewsTaker
{
    /// <summary>Name of the database's channel.</summary>
    string Channel { get; }

    Task TakeUpAsync(string payload, CancellationToken stop);

    /// <summary>The line to the database was away: news may have passed by unheard.</summary>
    void MayHaveMissed();
}
