using System.Text.Json;
using Microsoft.AspNetCore.SignalR;
using Npgsql;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Live;

/// <summary>What one node tells the others of its desks.</summary>
/// <param name="Desk">The desk; null when it is gone, or when this is about a member.</param>
/// <param name="Away">Somebody who said that they are away, or back; null where this is about a desk.</param>
internal sealed record PresenceWord(string Key, DeskLine? Desk, AwayWord? Away);

internal sealed record AwayWord(Guid Workspace, Guid Member, bool IsAway);

/// <summary>Keeps every node's knowledge of who is at a desk the same: told when it changes, and again while it lasts.</summary>
/// <remarks>A node that ends without a word is found out by its silence (<see cref="TeamPresence.Silence"/>).</remarks>
internal sealed class TeamNews(
    TeamPresence team,
    IHubContext<DeskHub> hub,
    NpgsqlDataSource source,
    LoopWatch watch,
    ILogger<TeamNews> log
) : BackgroundService, INewsTaker
{
    private const string Name = "outcry_people";
    private const string Round = "who is at a desk";
    private static readonly TimeSpan Beat = TimeSpan.FromSeconds(20);

    public string Channel => Name;

    /// <summary>Tells the desks of a site, and the other nodes, that somebody came, turned to something, or moves again.</summary>
    public async Task ToldAsync(string connection, DeskLine line)
    {
        await TellDesksAsync(line.Site);
        await SendAsync(new PresenceWord(KeyOf(connection), line, null));
    }

    public async Task WentAsync(string connection, Guid siteId)
    {
        await TellDesksAsync(siteId);
        await SendAsync(new PresenceWord(KeyOf(connection), null, null));
    }

    public async Task SaidAwayAsync(Guid workspaceId, Guid memberId, bool isAway)
    {
        foreach (var site in team.SaidAway(workspaceId, memberId, isAway))
            await TellDesksAsync(site);
        await SendAsync(new PresenceWord("", null, new AwayWord(workspaceId, memberId, isAway)));
    }

    public async Task TakeUpAsync(string payload, CancellationToken stop)
    {
        if (payload.StartsWith(SiteNews.From, StringComparison.Ordinal) || payload.IndexOf('|') is not (> 0 and var at))
            return;
        if (TryRead(payload[(at + 1)..]) is not { } word)
            return;
        if (word.Away is { } away)
            foreach (var site in team.SaidAway(away.Workspace, away.Member, away.IsAway))
                await TellDesksAsync(site);
        else if (word.Desk is { } line)
        {
            if (team.Heard(word.Key, line))
                await TellDesksAsync(line.Site);
        }
        else if (team.WentElsewhere(word.Key) is { } left)
            await TellDesksAsync(left);
    }

    // A node of another version may say what this one does not know.
    private static PresenceWord? TryRead(string text)
    {
        try
        {
            return JsonSerializer.Deserialize<PresenceWord>(text, Strict);
        }
        catch (JsonException)
        {
            return null;
        }
    }

    private static readonly JsonSerializerOptions Strict = new()
    {
        RespectNullableAnnotations = true,
        RespectRequiredConstructorParameters = true,
    };

    // What was missed is told again with the next beat.
    public void MayHaveMissed() { }

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        watch.KeepAsync(Round, GoAsync, stoppingToken);

    private async Task GoAsync(CancellationToken stop)
    {
        using var timer = new PeriodicTimer(Beat);
        while (await timer.WaitForNextTickAsync(stop))
        {
            foreach (var (connection, line) in team.Here)
                await SendAsync(new PresenceWord(KeyOf(connection), line, null));
            foreach (var site in team.ForgetSilent())
                await TellDesksAsync(site);
            watch.WentRound(Round);
        }
    }

    private static string KeyOf(string connection) => $"{SiteNews.NodeName}/{connection}";

    private Task TellDesksAsync(Guid siteId) =>
        hub.Clients.Group(DeskHub.GroupOf(siteId)).SendAsync("people", team.At(siteId));

    private async Task SendAsync(PresenceWord word)
    {
        try
        {
            await using var command = source.CreateCommand("select pg_notify($1, $2)");
            command.Parameters.AddWithValue(Name);
            command.Parameters.AddWithValue(SiteNews.From + JsonSerializer.Serialize(word));
            await command.ExecuteNonQueryAsync();
        }
        catch (Exception away) when (Problems.IsDatabaseAway(away))
        {
            // The next beat says it again.
            log.LogDebug(away, "Who is at a desk could not be told");
        }
    }
}
