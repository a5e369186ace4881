using System.Globalization;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Greetings;
using Outcry.Core.Pages;
using Outcry.Core.Scripts;
using Outcry.Core.Talks;
using Outcry.Core.Visitors;
using Outcry.Server.Audience;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>A script in a talk, ready to be asked what comes next.</summary>
/// <param name="Script">The revision that the talk began with.</param>
/// <param name="Now">What it can know.</param>
internal sealed record RunningScript(Script Script, Circumstances Now)
{
    /// <summary>Goes on in a talk that is locked: what is said, and how the talk stands then.</summary>
    /// <param name="said">What the visitor said; null at the beginning.</param>
    public (TalkStanding Standing, IReadOnlyList<NewWord> Words) GoOn(
        TalkRow talk,
        TalkStanding standing,
        string? said,
        Instant at
    ) =>
        Take(ScriptTurn.GoOn(Script, talk.Script ?? ScriptState.Start, standing, said, talk.LastAt, at, Now), talk, at);

    /// <summary>Writes a script's turn into its talk.</summary>
    public static (TalkStanding Standing, IReadOnlyList<NewWord> Words) Take(ScriptTurn turn, TalkRow talk, Instant at)
    {
        talk.Script = turn.State;
        talk.GroupId = turn.Group ?? talk.GroupId;
        talk.ScriptEndsAt = turn.EndsAt;
        if (turn.Email is { } email)
            (talk.Email, talk.AgreedAt) = (email, talk.AgreedAt ?? at);
        if (turn.Name is { } name)
            talk.Name = name;
        return (
            turn.Standing,
            [
                .. turn.Lines.Select(line =>
                    line.ForVisitor
                        ? new NewWord(Guid.CreateVersion7(), SaidBy.Script, ReadBy.Both, line.Text)
                        {
                            Replies = line.Replies,
                            Link = line.Link,
                            PauseMs = (int)line.Pause.TotalMilliseconds,
                        }
                        : NewWord.Happened(line.Text)
                ),
            ]
        );
    }
}

/// <summary>Finds the script of a talk and what it can know of the moment.</summary>
internal sealed class TalkScripts(TeamPresence team, CensusTaker census)
{
    /// <summary>Gives a talk that begins its launcher's script, where it has a live one.</summary>
    public async Task<RunningScript?> BeginAsync(
        OutcryDb db,
        LiveSite site,
        TalkRow talk,
        PageAddress page,
        Instant now,
        CancellationToken stop
    )
    {
        if (
            site.Compiled.GetValueOrDefault(talk.LauncherId) is not Launcher { Brief.ScriptId: { } id }
            || site.Compiled.GetValueOrDefault(id) is not LiveScript live
        )
            return null;
        (talk.ScriptId, talk.ScriptRevision, talk.Script) = (
            id,
            await db.Definitions.Where(d => d.Id == id).Select(d => d.Revision).FirstOrDefaultAsync(stop),
            ScriptState.Start
        );
        return new RunningScript(live.Script, await KnowAsync(db, site, talk, live.Script, page, now, stop));
    }

    /// <summary>The revision of a script that a talk keeps; null where it is gone.</summary>
    public static async Task<Script?> ReadAsync(OutcryDb db, TalkRow talk, CancellationToken stop) =>
        // As it was when the talk began, whatever was published since.
        (
            await db
                .Revisions.AsNoTracking()
                .Where(r => r.DefinitionId == talk.ScriptId && r.Number == talk.ScriptRevision)
                .Select(r => r.Content)
                .FirstOrDefaultAsync(stop)
        )?.Read<Script>();

    /// <summary>The script that a talk is in; null where none is, or it has ended.</summary>
    public async Task<RunningScript?> FindAsync(
        OutcryDb db,
        LiveSite site,
        TalkRow talk,
        PageAddress page,
        Instant now,
        CancellationToken stop
    )
    {
        if (
            talk is not { ScriptId: not null, Script.IsOver: false }
            || await ReadAsync(db, talk, stop) is not { } script
        )
            return null;
        return new RunningScript(script, await KnowAsync(db, site, talk, script, page, now, stop));
    }

    private async Task<Circumstances> KnowAsync(
        OutcryDb db,
        LiveSite site,
        TalkRow talk,
        Script script,
        PageAddress page,
        Instant now,
        CancellationToken stop
    )
    {
        var launcher = site.Compiled.GetValueOrDefault(talk.LauncherId) as Launcher;
        var answering = await ShowTalk.ReadAnsweringAsync(db, site.WorkspaceId, site.Id, team, stop);
        var free = answering.FindAll(m => m.IsThere && m.OpenTalks < RoundRobin.MostOpenTalks);
        var groups = team.GroupsOf(site.WorkspaceId);
        var ofTalk = groups.FirstOrDefault(g => g.Id == talk.GroupId);
        var (segments, isKnown) = await WhoAsync(site, talk, script, stop);
        return new Circumstances(
            talk.Language,
            site.Context.Language,
            page,
            segments,
            isKnown,
            launcher?.At(now, team.ThereOf(site.WorkspaceId)).IsOpen ?? true,
            [
                .. free.Where(m => ofTalk?.Members.Contains(m.Id) != false)
                    .OrderBy(m => m.OpenTalks)
                    .ThenBy(m => m.Id)
                    .Select(m => m.Id),
            ],
            GroupsFree(script, groups, free),
            now.InZone(site.Zone).Date,
            site.Region,
            TokensAt(launcher, site.Zone, talk.Language, now)
        )
        {
            Times = await TimesAsync(db, site, talk, script, launcher, now, stop),
            Offers = OffersOf(script, site, talk, page, now),
        };
    }

    private Dictionary<Guid, string> OffersOf(Script script, LiveSite site, TalkRow talk, PageAddress page, Instant now)
    {
        var offers = new Dictionary<Guid, string>();
        foreach (var step in script.Steps)
            if (
                step.Offered is { } offered
                && (
                    step.Offers == OfferOf.Prompt
                        ? PromptAt(site, offered, talk.VisitorId, page, now)
                        : ChannelAt(site, offered, talk.Language, page, now)
                )
                    is { } leads
            )
                offers[step.Id] = leads;
        return offers;
    }

    // Any launcher's channels: a script serves several.
    private string? ChannelAt(LiveSite site, Guid channel, string language, PageAddress page, Instant now)
    {
        var there = team.ThereOf(site.WorkspaceId);
        return
            site
                .Launchers.Select(l => l.WayAt(channel, now, l.At(now, there).IsOpen))
                .FirstOrDefault(c => c is not null)
                is { } way
            ? ChannelAddress
                .Open(way, site.Region, Prefill.Say(way.In(language).Prefill, $"https://{page}", site.Name))
                .Address
            : null;
    }

    // Whoever said yes to one is asked by none, nobody by words they took back, and a button that does nothing is no offer.
    private static string? PromptAt(LiveSite site, Guid prompt, string visitor, PageAddress page, Instant now) =>
        site.Compiled.GetValueOrDefault(prompt) is Callout { Brief.Ask: { } ask } callout
        && site.Asked.Of(visitor) is { HasGiven: false } before
        && !before.TookBackPromiseOf(ask)
        && callout.Targeting.Pages.Decide(page).Shown
        && callout.Targeting.Facets.When.Schedule.Refuses(now, site.Zone) is null
            ? OfferAddress.OfPrompt(prompt)
            : null;

    // A group that a script still names and that is no more is everybody.
    private static HashSet<Guid> GroupsFree(
        Script script,
        IReadOnlyList<AnswerGroup> groups,
        List<AnsweringView> free
    ) =>
        [
            .. groups.Where(g => free.Exists(m => g.Members.Contains(m.Id))).Select(g => g.Id),
            .. script
                .Steps.Select(s => s.GroupId)
                .OfType<Guid>()
                .Where(id => free.Count > 0 && groups.All(g => g.Id != id)),
        ];

    private static async Task<IReadOnlyDictionary<Guid, IReadOnlyList<OfferedTime>>> TimesAsync(
        OutcryDb db,
        LiveSite site,
        TalkRow talk,
        Script script,
        Launcher? launcher,
        Instant now,
        CancellationToken stop
    )
    {
        var times = new Dictionary<Guid, IReadOnlyList<OfferedTime>>();
        // Whether somebody is at the desk now says nothing of next week; and where there is no launcher any more, the site's own zone holds.
        var hours = launcher?.Brief.Hours ?? new OpeningHours(site.Zone.Id, [], [], [], OnlyIfPresent: false);
        foreach (var step in script.Steps)
            if (step.Ask is { Kind: AskKind.Time, Times: { } offer })
                times[step.Id] = FreeTimes.Find(
                    hours,
                    offer,
                    now,
                    await Bookings.TakenAsync(db, step.Id, talk.Id, now, stop),
                    site.Zone,
                    talk.Language
                );
        return times;
    }

    /// <summary>What words can name besides kept answers: when the launcher opens next, said in a language.</summary>
    /// <param name="closedAt">When it is closed; null where it is not.</param>
    public static IReadOnlyDictionary<string, string> TokensAt(
        Launcher? launcher,
        DateTimeZone zone,
        string language,
        Instant? closedAt
    ) =>
        closedAt is { } now && launcher?.Times.OpensAfter(now) is { } opens
            ? new Dictionary<string, string>
            {
                ["next_opening"] = opens.InZone(zone).ToString("dddd, HH:mm", CultureOf(language)),
            }
            : new Dictionary<string, string>();

    // The record is read only where a step asks for it.
    private async Task<(IReadOnlySet<Guid> Segments, bool IsKnown)> WhoAsync(
        LiveSite site,
        TalkRow talk,
        Script script,
        CancellationToken stop
    )
    {
        if (!script.Steps.Any(s => s.If is { On: ConditionOn.Segment or ConditionOn.Known }))
            return (new HashSet<Guid>(), false);
        if ((await census.ReadAsync(site, stop)).Find(talk.VisitorId) is not { } visitor)
            return (new HashSet<Guid>(), false);
        var reader = Census.ReaderOf(visitor.Last, site.Snapshot);
        return (
            site.Context.Segments.Values.Where(s =>
                    CompiledRule.TryCompile(s.Rule, site.Context.Segments, out _)?.Holds(reader) == true
                )
                .Select(s => s.Id)
                .ToHashSet(),
            visitor.Last.Visit.Facts.IsKnown
        );
    }

    private static CultureInfo CultureOf(string language)
    {
        try
        {
            return CultureInfo.GetCultureInfo(language);
        }
        catch (CultureNotFoundException)
        {
            return CultureInfo.InvariantCulture;
        }
    }
}
