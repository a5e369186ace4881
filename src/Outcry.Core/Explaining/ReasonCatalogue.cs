using System.Collections.Frozen;
using System.Globalization;
using NodaTime;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Explaining;

/// <summary>What a sentence may need to know besides its reason.</summary>
/// <param name="Zone">The site's time zone, in which times are said.</param>
/// <param name="NameOf">Names callouts; may return null for one that is gone.</param>
public sealed record ReasonSetting(DateTimeZone Zone, Func<Guid, string?> NameOf);

/// <summary>Everything there is to say of one sort of reason; without any of it there is no entry.</summary>
/// <param name="Reason">The sort.</param>
/// <param name="Code">What machines know it by.</param>
/// <param name="Control">Where at the desk it can be changed.</param>
/// <param name="Rank">How likely it is the one that matters to somebody who wonders, 0 for the likeliest.</param>
/// <param name="Gist">What many of the sort have in common, as it reads after a number of page views.</param>
/// <param name="Sentence">It, with its figures, as one plain sentence.</param>
public sealed record ReasonEntry(
    Type Reason,
    string Code,
    ControlPlace Control,
    Func<Reason, int> Rank,
    Func<Reason, string> Gist,
    Func<Reason, ReasonSetting, string> Sentence
);

/// <summary>The catalogue of reasons: one entry for each sort, in the order in which the planner asks.</summary>
/// <remarks>
/// Ranks: 0 and 1 silence everything, 2 its dates, 3 what there is to tell, 4 what stands in the way, 5 the hour, the team, another
/// callout, 6 the visitor, 7 what was done on the page, 8 what lies with one visitor's past, 9 the page.
/// </remarks>
public static class ReasonCatalogue
{
    /// <summary>All entries.</summary>
    public static IReadOnlyList<ReasonEntry> Entries { get; } =
    [
        Of<SiteOffAir>(
            "siteOffAir",
            ControlPlace.OffAir,
            0,
            "the site is off air",
            (_, _) => "The whole site is off air."
        ),
        Of<NotLive>(
            "notLive",
            ControlPlace.State,
            1,
            "it is not live",
            (r, _) =>
                r.State switch
                {
                    DefinitionState.Draft => "It is a draft and has never been published.",
                    DefinitionState.Paused => "It is paused.",
                    _ => "It is archived.",
                }
        ),
        Of<OutsideSchedule>(
            "outsideSchedule",
            ControlPlace.When,
            r => r.Limit.Side == ScheduleSide.OtherHours ? 5 : 2,
            _ => "outside its dates or hours",
            (r, s) => Dates(r.Limit, s.Zone)
        ),
        Of<PageExcluded>(
            "pageExcluded",
            ControlPlace.Where,
            9,
            "not one of its pages",
            (r, _) => $"The page is left out by {r.Pattern}."
        ),
        Of<PageNotIncluded>(
            "pageNotIncluded",
            ControlPlace.Where,
            9,
            "not one of its pages",
            (r, _) =>
                r.Includes switch
                {
                    0 => "The page is none of its pages.",
                    1 => "The page does not match its pattern.",
                    _ => $"The page matches none of its {r.Includes} patterns.",
                }
        ),
        Of<NoPageSeen>(
            "noPageSeen",
            ControlPlace.Where,
            9,
            "no visit to its pages",
            (_, _) => "Nobody has looked at a page it is for in the last 30 days."
        ),
        Of<QuietPage>(
            "quietPage",
            ControlPlace.HouseRules,
            5,
            "the page is kept quiet by house rule",
            (r, _) => $"Nothing is shown here: {r.Pattern} is a quiet page by house rule."
        ),
        Of<DeviceLeftOut>(
            "deviceLeftOut",
            ControlPlace.Who,
            6,
            "hidden on the visitor's device",
            (r, _) =>
                $"It is hidden on {r.Device switch { Device.Phone => "phones", Device.Tablet => "tablets", _ => "desktops" }}."
        ),
        Of<VisitorDiffers>(
            "visitorDiffers",
            ControlPlace.Who,
            6,
            "not a visitor it asks for",
            (r, s) => Differs(r.Failed, s.NameOf)
        ),
        Of<NoConsent>(
            "noConsent",
            ControlPlace.HouseRules,
            6,
            "the visitor had not agreed",
            (_, _) => "House rules show something only to visitors who agreed, and this one has not."
        ),
        Of<NobodyAvailable>(
            "nobodyAvailable",
            ControlPlace.When,
            5,
            "nobody of the team was there",
            (_, _) => "Nobody of the team is available."
        ),
        Of<AlreadyGave>(
            "alreadyGave",
            ControlPlace.Nowhere,
            8,
            "the visitor had given an address already",
            (_, _) => "The visitor has said yes already, and nobody is asked twice."
        ),
        Of<TookPromiseBack>(
            "tookPromiseBack",
            ControlPlace.Nowhere,
            8,
            "the visitor had taken back what it promises",
            (_, _) =>
                "The visitor has taken back what they agreed to by this promise, and nobody is asked again by words they took back."
        ),
        Of<NoCodesLeft>(
            "noCodesLeft",
            ControlPlace.After,
            3,
            "its codes had run out",
            (_, _) => "Its pool of codes is empty, and it stays away then."
        ),
        Of<Hushed>(
            "hushed",
            ControlPlace.HowOften,
            8,
            "the visitor was left in peace after closing something",
            (r, s) => $"The visitor closed a callout; hush until {At(r.Until, s.Zone)}."
        ),
        Of<ClosedBefore>(
            "closedBefore",
            ControlPlace.HowOften,
            8,
            "closed by the visitor before",
            (r, s) =>
                r.Until is { } until
                    ? $"The visitor closed it; it stays away until {At(until, s.Zone)}."
                    : "The visitor closed it; it does not come back."
        ),
        Of<Succeeded>(
            "succeeded",
            ControlPlace.HowOften,
            8,
            "the visitor had done what it asks for",
            (r, s) =>
                r.Until is { } until
                    ? $"The visitor did what it asks for on {At(r.At, s.Zone)}; it stays away until {At(until, s.Zone)}."
                    : $"The visitor did what it asks for on {At(r.At, s.Zone)}; it does not come back."
        ),
        Of<SeenOften>(
            "seenOften",
            ControlPlace.HowOften,
            _ => 8,
            r => OftenIn(r.Limit.Span),
            (r, s) => Often(r.Limit, s.Zone)
        ),
        Of<HeldBack>(
            "heldBack",
            ControlPlace.HowOften,
            8,
            "held back to measure its effect",
            (r, _) => $"This visitor is among the {r.Percent} % who are held back to measure its effect."
        ),
        Of<Replaced>(
            "replaced",
            ControlPlace.Where,
            5,
            "a callout more particular to the page took its place",
            (r, s) => $"\"{s.NameOf(r.By) ?? "Another callout"}\" is more particular to this page and takes its place."
        ),
        Of<NoLauncher>(
            "noLauncher",
            ControlPlace.Where,
            r => RankOf(r.Because),
            _ => "its launcher was not on the page",
            (r, s) => $"Its launcher is not on this page: {Lower(SentenceOf(r.Because, s))}"
        ),
        Of<OtherLauncher>(
            "otherLauncher",
            ControlPlace.Where,
            5,
            "another launcher stood there",
            (r, s) =>
                $"{(s.NameOf(r.By) is { } name ? $"\"{name}\"" : "Another launcher")} stands there, and one is enough."
        ),
        Of<ClosedForNow>(
            "closedForNow",
            ControlPlace.When,
            5,
            "its launcher was closed",
            (r, s) =>
                r.OpensAt is { } at
                    ? $"It is hidden while closed; it opens {At(at, s.Zone)}."
                    : "It is hidden while closed."
        ),
        Of<RungAbove>(
            "rungAbove",
            ControlPlace.Where,
            7,
            "a greeting above it came first",
            (r, _) => $"Not reached: greeting {r.Rung} stands above it and fits."
        ),
        Of<OpenOtherwise>(
            "openOtherwise",
            ControlPlace.When,
            5,
            "its launcher was open or closed, and it asks for the other",
            (r, _) =>
                r.WantsOpen
                    ? "It greets while its launcher is open, and it is closed."
                    : "It greets while its launcher is closed, and it is open."
        ),
        Of<GreetedEnough>(
            "greetedEnough",
            ControlPlace.HowOften,
            8,
            "greeted often enough in the visit",
            (r, _) => $"The visit has had {r.Seen} of {r.Allowed} greetings."
        ),
        Of<TooFewEvents>(
            "tooFewEvents",
            ControlPlace.From,
            3,
            "too few events to tell anything",
            (r, _) => $"It needs {r.Needs} {Events(r.Needs)}{Window(r.WindowMinutes)} and has {r.Has}."
        ),
        Of<OnlyOwnEvents>(
            "onlyOwnEvents",
            ControlPlace.From,
            3,
            "too few events but the visitor's own",
            (r, _) =>
                r.Own == r.Has
                    ? $"Only the visitor's own {Events(r.Own)} would be told, and nobody is shown their own."
                    : $"It needs {r.Needs} {Events(r.Needs)}; of {r.Has}, {r.Own} are the visitor's own."
        ),
        Of<NothingLow>(
            "nothingLow",
            ControlPlace.From,
            3,
            "nothing low enough to tell",
            (r, _) =>
                r.Lowest is { } lowest
                    ? $"Nothing is down to {r.MostLeft}; the lowest is {lowest}."
                    : "No stock level is known that is not zero."
        ),
        Of<TooFewNear>(
            "tooFewNear",
            ControlPlace.From,
            3,
            "too few events from where the visitor is",
            (r, _) =>
                r.Place.Length == 0
                    ? "It tells only what happened where the visitor is, and that is not known."
                    : $"It needs {r.Needs} {Events(r.Needs)} from {r.Place} and has {r.Has}."
        ),
        Of<TooFewOfPage>(
            "tooFewOfPage",
            ControlPlace.From,
            3,
            "too few events about the page's product",
            (r, _) => $"It needs {r.Needs} {Events(r.Needs)} about this page's product and has {r.Has}."
        ),
        Of<WordingFailed>("wordingFailed", ControlPlace.Say, 3, "its words could not be said", (r, _) => r.Because),
        Of<NoPlace>(
            "noPlace",
            ControlPlace.Look,
            4,
            "its place is not on the page",
            (r, _) => $"Its place, {r.Selector}, was not on this page when visitors last looked at it."
        ),
        Of<NeverDue>(
            "neverDue",
            ControlPlace.When,
            _ => 7,
            r => $"the visitor did not {TriggerWords.Did(r.Waits)}",
            (r, _) => $"The visitor did not {TriggerWords.Did(r.Waits)}."
        ),
        Of<LeftBefore>(
            "leftBefore",
            ControlPlace.When,
            7,
            "the page was left before its turn",
            (r, _) =>
                $"Due at {ReasonSentence.Clock(r.DueMs)}; the page was left at {ReasonSentence.Clock(r.StayedMs)}."
        ),
        Of<NoFreeSlot>(
            "noFreeSlot",
            ControlPlace.RunSheet,
            4,
            "its place was taken for as long as it waits",
            (r, s) => Slot(r, s.NameOf)
        ),
        Of<BudgetSpent>(
            "budgetSpent",
            ControlPlace.HouseRules,
            4,
            "the visit had had as many callouts as it may",
            (r, _) => $"The visit has had {r.Started} of the {r.Allowed} callouts that the house rules allow."
        ),
        Of<HeldByPage>(
            "heldByPage",
            ControlPlace.Nowhere,
            _ => 8,
            r => $"{Holding(r.Hold)} until the page was left",
            (r, _) => $"Due at {ReasonSentence.Clock(r.DueMs)}, but {Holding(r.Hold)} until the page was left."
        ),
        Of<NoRoom>(
            "noRoom",
            ControlPlace.Look,
            8,
            "no room on the screen",
            (_, _) => "There was no room for it on the screen beside what the page keeps there."
        ),
    ];

    private static readonly FrozenDictionary<Type, ReasonEntry> ByType = Entries.ToFrozenDictionary(e => e.Reason);

    /// <summary>Where at the desk a reason can be changed.</summary>
    public static ControlPlace ControlOf(Reason reason) => EntryOf(reason).Control;

    /// <summary>How likely a reason is the one that matters to somebody who wonders: what silences everything first, what lies with one visitor last.</summary>
    /// <returns>0 for the likeliest.</returns>
    public static int RankOf(Reason reason) => EntryOf(reason).Rank(reason);

    /// <summary>What many reasons of one sort have in common, without the figures of any of them, as it reads after a number of page views.</summary>
    public static string GistOf(Reason reason) => EntryOf(reason).Gist(reason);

    internal static string SentenceOf(Reason reason, ReasonSetting setting) =>
        EntryOf(reason).Sentence(reason, setting);

    private static ReasonEntry EntryOf(Reason reason) =>
        ByType.GetValueOrDefault(reason.GetType())
        ?? throw new ArgumentOutOfRangeException(nameof(reason), reason, "There is no entry for this sort of reason.");

    private static ReasonEntry Of<T>(
        string code,
        ControlPlace control,
        int rank,
        string gist,
        Func<T, ReasonSetting, string> sentence
    )
        where T : Reason => Of<T>(code, control, _ => rank, _ => gist, sentence);

    private static ReasonEntry Of<T>(
        string code,
        ControlPlace control,
        Func<T, int> rank,
        Func<T, string> gist,
        Func<T, ReasonSetting, string> sentence
    )
        where T : Reason =>
        new(typeof(T), code, control, r => rank((T)r), r => gist((T)r), (r, setting) => sentence((T)r, setting));

    // A sentence inside a sentence begins small.
    private static string Lower(string sentence) =>
        sentence.Length == 0 || sentence[0] == '"' ? sentence : char.ToLowerInvariant(sentence[0]) + sentence[1..];

    private static string Holding(HoldKind hold) =>
        hold switch
        {
            HoldKind.Consent => "the consent notice was open",
            HoldKind.Chat => "a chat was open",
            _ => "a dialog of the page was open",
        };

    private static string OftenIn(RepeatSpan span) =>
        span switch
        {
            RepeatSpan.Visit => "seen already in the same visit",
            RepeatSpan.Days => "seen too short a time ago",
            RepeatSpan.Week => "seen as often as it may be in a week",
            RepeatSpan.Clicked => "clicked already",
            _ => "seen as often as it may ever be",
        };

    private static string Slot(NoFreeSlot r, Func<Guid, string?> nameOf)
    {
        var blocker = r.Blocker is { } id && nameOf(id) is { } name ? $" while \"{name}\" had the place" : "";
        var next = r.NextFreeMs is { } free ? $"; the next free second is {ReasonSentence.Clock(free)}" : "";
        return $"Due at {ReasonSentence.Clock(r.DueMs)}{blocker}; its patience ended at {ReasonSentence.Clock(r.GaveUpMs)}{next}.";
    }

    private static string Often(RepeatLimit limit, DateTimeZone zone) =>
        limit.Span switch
        {
            RepeatSpan.Visit => "Seen already in this visit; possible again in the next.",
            RepeatSpan.Days =>
                $"Seen in the last {UnitWords.Say(limit.Unit, limit.Every)}; next {At(limit.NextAt!.Value, zone)}.",
            RepeatSpan.Week =>
                $"Seen {limit.Seen} of {limit.Allowed} allowed this week, next {At(limit.NextAt!.Value, zone)}.",
            RepeatSpan.Clicked => "The visitor clicked it already; it runs until clicked.",
            _ => $"Seen in {limit.Seen} of {limit.Allowed} visits allowed in all; not again.",
        };

    private static string Dates(ScheduleLimit limit, DateTimeZone zone) =>
        limit switch
        {
            { Side: ScheduleSide.NotBegun, At: { } at } => $"It begins on {At(at, zone)}.",
            { Side: ScheduleSide.Over, At: { } at } => $"It ended on {At(at, zone)}.",
            { At: { } at } => $"It runs at other hours; next {At(at, zone)}.",
            _ => "It runs at other hours.",
        };

    private static string Differs(FailedTest failed, Func<Guid, string?> nameOf)
    {
        var asked = FactWords.Say(failed.Test, nameOf);
        var within = failed.Segment is { } segment ? $" (segment \"{segment}\")" : "";
        if (failed.Inverted)
            return $"Not for visitors where {asked}{within}.";
        var own =
            FactKinds.Of(failed.Test.Fact) == FactKind.PastEvent ? ""
            : failed.Value.Length == 0 ? " For this one it is not known."
            : $" For this one it is {failed.Value}.";
        return $"Only for visitors where {asked}{within}.{own}";
    }

    private static string Window(int? minutes) =>
        minutes is { } m ? $" in the last {SpanPhrase.SayWindow(Duration.FromMinutes(m))}" : "";

    private static string Events(int number) => number == 1 ? "event" : "events";

    private static string At(Instant at, DateTimeZone zone) =>
        at.InZone(zone).ToString("ddd d MMM, HH:mm", CultureInfo.InvariantCulture);
}
