using System.Globalization;
using Microsoft.EntityFrameworkCore;
using NodaTime;
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
    )
    {
        var state = talk.Script ?? ScriptState.Start;
        List<NewWord> words = [];
        // So long without a word ends it; what comes later begins at the top.
        if (said is not null && at - talk.LastAt > Duration.FromMinutes(Script.SilenceMinutes))
        {
            words.Add(NewWord.Happened($"Left at step {LineOf(state.Waits)}."));
            (state, said) = (ScriptState.Start, null);
        }
        var result = new ScriptMachine(Script).Run(state, said, Now);
        talk.Script = result.State;
        TakeOver(talk, result.State, at);
        // While it asks, the visitor waits for nobody.
        standing = standing with
        {
            WaitingSince = null,
        };
        foreach (var output in result.Outputs)
            switch (output.Kind)
            {
                case OutputKind.HandOver:
                    words.Add(NewWord.Happened($"Handed over by the script. {Kept(result.State)}".TrimEnd()));
                    standing = standing with
                    {
                        State = output.Member is null ? TalkState.Unclaimed : TalkState.Claimed,
                        MemberId = output.Member,
                        WaitingSince = at,
                    };
                    break;
                case OutputKind.Fault:
                    words.Add(NewWord.Happened($"The script could not go on: {output.Text}"));
                    standing = standing with { WaitingSince = at };
                    break;
                case OutputKind.End:
                    words.Add(NewWord.Happened($"The script has ended. {Kept(result.State)}".TrimEnd()));
                    // Whoever left something waits for somebody to read it.
                    if (result.State.Kept.Count > 0)
                        standing = standing with { WaitingSince = at };
                    break;
                default:
                    words.Add(
                        new NewWord(Guid.CreateVersion7(), SaidBy.Script, ReadBy.Both, output.Text)
                        {
                            Replies = output.Replies,
                            Link = output.Address,
                        }
                    );
                    break;
            }
        return (standing, words);
    }

    private int LineOf(Guid? step) => Script.Steps.TakeWhile(s => s.Id != step).Count() + 1;

    private static string Kept(ScriptState state) =>
        string.Join(", ", state.Kept.Where(k => k.Value.IsUnderstood).Select(k => $"{k.Key}: {k.Value.Value}"));

    // An address to which they agreed to be written, and the name they gave.
    private void TakeOver(TalkRow talk, ScriptState state, Instant at)
    {
        KeptAnswer? Of(AskKind kind) =>
            Script
                .Steps.Where(s => s.Ask?.Kind == kind)
                .Select(s => state.Kept.GetValueOrDefault(s.Ask!.Field))
                .FirstOrDefault(k => k is { IsUnderstood: true });
        if (Of(AskKind.Email) is { } email && Of(AskKind.Consent)?.Value == "yes")
            (talk.Email, talk.AgreedAt) = (email.Value, talk.AgreedAt ?? at);
        if (state.Kept.GetValueOrDefault("name") is { IsUnderstood: true, Value.Length: <= 80 } name)
            talk.Name = name.Value;
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
        if (talk is not { ScriptId: { } id, Script.IsOver: false })
            return null;
        // As it was when the talk began, whatever was published since.
        var content = await db
            .Revisions.AsNoTracking()
            .Where(r => r.DefinitionId == id && r.Number == talk.ScriptRevision)
            .Select(r => r.Content)
            .FirstOrDefaultAsync(stop);
        if (content is null)
            return null;
        var script = content.Read<Script>();
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
        var (segments, isKnown) = await WhoAsync(site, talk, script, stop);
        return new Circumstances(
            talk.Language,
            site.Context.Language,
            page,
            segments,
            isKnown,
            launcher?.At(now, team.IsThere(site.WorkspaceId)).IsOpen ?? true,
            [
                .. answering
                    .Where(m => m.IsThere && m.OpenTalks < RoundRobin.MostOpenTalks)
                    .OrderBy(m => m.OpenTalks)
                    .ThenBy(m => m.Id)
                    .Select(m => m.Id),
            ],
            now.InZone(site.Zone).Date,
            site.Region,
            TokensAt(launcher, site.Zone, talk.Language, now)
        );
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
