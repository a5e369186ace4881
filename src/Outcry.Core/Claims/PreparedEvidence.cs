using System.Collections.Concurrent;
using System.Collections.Frozen;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Saying;

namespace Outcry.Core.Claims;

/// <summary>What evidence is drawn for: everything that two readers may be told differently by, but for their own events.</summary>
/// <param name="Wording">In which words.</param>
/// <param name="Near">The reader's country or region, where that matters; empty otherwise.</param>
/// <param name="Path">The page read, where that matters; empty otherwise.</param>
internal readonly record struct Audience(SpokenWording Wording, string Near, string Path);

/// <summary>A callout's evidence for one audience.</summary>
/// <param name="Events">The events drawn on, in the order in which they are told when not shuffled.</param>
/// <param name="NearCount">How many of them, from the first, are of the reader's own country or region.</param>
/// <param name="Number">The count, whoever reads.</param>
/// <param name="Span">The stretch truly covered.</param>
/// <param name="Turns">The first of the events, worded; of a count the one sentence.</param>
/// <param name="Present">Visitors behind a number of people here now; empty otherwise.</param>
internal sealed record AudienceClaim(
    IReadOnlyList<LedgerEvent> Events,
    int NearCount,
    int Number,
    Duration Span,
    IReadOnlyList<PreparedTurn> Turns,
    FrozenSet<string> Present
)
{
    /// <summary>Why nothing of it can be said; null when it can.</summary>
    public string? Failure { get; init; }

    private ulong[]? _folded;

    /// <summary>Turn by turn, what its rank in a shuffle depends on. Only of turns that tell of events.</summary>
    public ReadOnlySpan<ulong> Folded => _folded ??= [.. Turns.Select(t => SteadyShuffle.Fold(t.Event!.Id))];

    private static readonly IReadOnlyList<PreparedTurn> Unjudged = [];
    private IReadOnlyList<PreparedTurn>? _alike = Unjudged;

    /// <summary>Turns as many, and staying as long, as whatever any reader without events of their own is told; null when readers differ.</summary>
    /// <param name="callout">The callout drawn for; always the same.</param>
    public IReadOnlyList<PreparedTurn>? AlikeFor(Callout callout)
    {
        var alike = _alike;
        if (ReferenceEquals(alike, Unjudged))
            _alike = alike = Judge(callout.Brief);
        return alike;
    }

    // As long as there are as many people as turns, no turn is passed over for coming twice from the same person.
    private IReadOnlyList<PreparedTurn>? Judge(Brief brief)
    {
        if (brief.Kind is CalloutKind.Tally or CalloutKind.Headcount || Turns.Count == 0)
            return null;
        if (brief.SaysItself)
            return Turns;
        var turns = brief.When.Turns;
        var told = new DistinctPeople(Turns.Select(t => t.Event!));
        var people = Turns.Select(t => told.Of(t.Event!)).Distinct().Take(turns).Count();
        var seconds = brief.Look.StaySeconds ?? 0;
        return people == turns && Turns.DistinctBy(t => StayTime.Of(seconds, t.Length)).Take(2).Count() == 1
            ? [.. Turns.Take(turns)]
            : null;
    }
}

/// <summary>What a callout claims at one moment.</summary>
/// <param name="Number">The count.</param>
/// <param name="Needs">The least before anything is said.</param>
/// <param name="Span">The stretch truly covered; zero for none.</param>
/// <param name="Missing">Why nothing is said yet; null when something is.</param>
/// <param name="Turns">What is said: the newest first, or the one sentence of a count.</param>
public sealed record ClaimNow(int Number, int Needs, Duration Span, Reason? Missing, IReadOnlyList<PreparedTurn> Turns);

/// <summary>A callout's evidence at one moment: drawn once for all, worded once for each audience that asks.</summary>
public sealed class PreparedEvidence
{
    /// <summary>Events worded ahead: more than any callout tells in one page view.</summary>
    public const int MostWorded = 50;

    // A callout is read in a few languages, countries and pages; beyond this the rest is drawn without being kept.
    private const int MostAudiences = 300;

    private readonly ConcurrentDictionary<Audience, AudienceClaim> _drawn = new();
    private readonly Lazy<PlaceCrowd> _crowd;
    private readonly Lazy<DistinctPeople> _people;
    private AudienceClaim? _usual;

    private PreparedEvidence(
        Callout callout,
        Selection selection,
        Traffic traffic,
        Func<Guid, DisplayPolicy> displayOf,
        DateTimeZone zone,
        Instant now
    )
    {
        (Callout, Traffic, DisplayOf, Zone, Now) = (callout, traffic, displayOf, zone, now);
        (Events, Span) = (selection.Counted, selection.Span);
        _crowd = new Lazy<PlaceCrowd>(() => new PlaceCrowd(Events));
        _people = new Lazy<DistinctPeople>(() => new DistinctPeople(Events));
    }

    /// <summary>The callout.</summary>
    public Callout Callout { get; }

    /// <summary>All events drawn on, newest first, whoever reads.</summary>
    public IReadOnlyList<LedgerEvent> Events { get; }

    /// <summary>How many.</summary>
    public int Counted => Events.Count;

    /// <summary>The stretch they truly cover.</summary>
    public Duration Span { get; }

    /// <summary>The traffic it was drawn with.</summary>
    public Traffic Traffic { get; }

    /// <summary>When it was drawn.</summary>
    public Instant Now { get; }

    /// <summary>The events worded in the site's own language, as somebody from nowhere on no page in particular reads them.</summary>
    public IReadOnlyList<PreparedTurn> Turns => For(new Audience(Callout.Messages.Own, "", "")).Turns;

    internal Func<Guid, DisplayPolicy> DisplayOf { get; }

    internal DateTimeZone Zone { get; }

    internal PlaceCrowd Crowd => _crowd.Value;

    internal DistinctPeople People => _people.Value;

    /// <summary>Draws a callout's events.</summary>
    /// <param name="callout">The callout.</param>
    /// <param name="newestFirst">The site's events, newest first.</param>
    /// <param name="displayOf">What each source allows to be read.</param>
    /// <param name="now">Counted back from here.</param>
    /// <param name="traffic">The recorded traffic; none when left out.</param>
    /// <param name="zone">The site's time zone; universal time when left out.</param>
    public static PreparedEvidence Prepare(
        Callout callout,
        IEnumerable<LedgerEvent> newestFirst,
        Func<Guid, DisplayPolicy> displayOf,
        Instant now,
        Traffic? traffic = null,
        DateTimeZone? zone = null
    )
    {
        var draws = !BriefEvidence.NeedsNothing(callout.Brief) && !BriefEvidence.CountsTraffic(callout.Brief);
        var selection = draws
            ? EvidenceSelector.Select(newestFirst, callout.Evidence, now)
            : new Selection([], Duration.Zero);
        return new PreparedEvidence(
            callout,
            selection,
            traffic ?? Traffic.None,
            displayOf,
            zone ?? DateTimeZone.Utc,
            now
        );
    }

    /// <summary>Takes what a callout's window holds as its evidence.</summary>
    /// <param name="callout">The callout.</param>
    /// <param name="windows">The windows of the site's callouts.</param>
    /// <param name="displayOf">What each source allows to be read.</param>
    /// <param name="now">Counted back from here.</param>
    /// <param name="traffic">The recorded traffic.</param>
    /// <param name="zone">The site's time zone.</param>
    public static PreparedEvidence Of(
        Callout callout,
        RuleWindows windows,
        Func<Guid, DisplayPolicy> displayOf,
        Instant now,
        Traffic traffic,
        DateTimeZone zone
    ) => new(callout, windows.SelectionOf(callout, now), traffic, displayOf, zone, now);

    /// <summary>Words one event of the callout in the site's own language.</summary>
    public PreparedTurn Word(LedgerEvent happened) =>
        TurnWriter.Event(
            Callout.Brief.Say,
            Callout.Messages.Own,
            happened,
            DisplayOf(happened.SourceId),
            Crowd,
            Now,
            Zone
        );

    /// <summary>Words any event as visitors would read it.</summary>
    /// <param name="say">What is said.</param>
    /// <param name="wording">In which words.</param>
    /// <param name="happened">The event.</param>
    /// <param name="display">What its source allows to be read.</param>
    /// <param name="crowd">Who shares its place.</param>
    /// <param name="now">For its age.</param>
    /// <param name="zone">The site's time zone.</param>
    public static PreparedTurn Word(
        SayFacet say,
        SpokenWording wording,
        LedgerEvent happened,
        DisplayPolicy display,
        PlaceCrowd crowd,
        Instant now,
        DateTimeZone zone
    ) => TurnWriter.Event(say, wording, happened, display, crowd, now, zone);

    /// <summary>Whether single events are told, and not a count of them.</summary>
    public bool TellsEvents =>
        Callout.Brief.Kind
            is not (CalloutKind.Tally or CalloutKind.Headcount or CalloutKind.Notice or CalloutKind.Prompt);

    /// <summary>What is claimed to a reader from nowhere who did none of it, and what is missing before anything is.</summary>
    public ClaimNow ClaimNow
    {
        get
        {
            var audience = new Audience(Callout.Messages.Own, "", "");
            var claim = For(audience);
            var needs = TurnPicker.NeededBy(Callout.Brief);
            var missing =
                claim.Failure is { } failure ? new WordingFailed(failure)
                : claim.Number < needs ? TurnPicker.Missing(this, claim, needs, audience)
                : null;
            return new ClaimNow(claim.Number, needs, claim.Span, missing, claim.Turns);
        }
    }

    /// <summary>The evidence for one audience.</summary>
    internal AudienceClaim For(Audience audience)
    {
        // Most callouts have one audience, for whom there is nothing to look up.
        if (ReferenceEquals(audience.Wording, Callout.Messages.Own) && audience is { Near: "", Path: "" })
            return _usual ??= ClaimMaker.For(this, audience);
        if (_drawn.TryGetValue(audience, out var claim))
            return claim;
        claim = ClaimMaker.For(this, audience);
        if (_drawn.Count < MostAudiences)
            _drawn[audience] = claim;
        return claim;
    }

    /// <summary>What tells readers of this callout apart.</summary>
    internal Audience AudienceOf(SpokenWording wording, Place reader, PageAddress page) =>
        new(
            wording,
            Callout.Brief.From.Near switch
            {
                Nearness.CountryFirst or Nearness.CountryOnly => reader.Country,
                Nearness.RegionFirst or Nearness.RegionOnly => reader.Region,
                _ => "",
            },
            Callout.Brief.From.OfThisPage ? page.Path : ""
        );
}
