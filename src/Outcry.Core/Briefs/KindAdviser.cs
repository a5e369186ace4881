using System.Globalization;

namespace Outcry.Core.Briefs;

/// <summary>What a page group's recorded life looks like: what the adviser goes by.</summary>
/// <param name="VisitorsAWeek">Distinct visitors who opened one of its pages in the last seven days.</param>
/// <param name="VisitorsNow">Visitors on its pages now.</param>
/// <param name="BusyMinuteVisitors">
/// Distinct visitors who opened its pages within one and the same minute, at the busiest minute of the middle one of the
/// last seven days, ordered by that number.
/// </param>
/// <param name="PeopleAWeek">Distinct people behind events of a deed (bought, booked, signed up, asked) in the last seven days.</param>
/// <param name="Reviews">Reviews and endorsements that may be shown.</param>
/// <param name="RunningLow">Products whose stock is at or under the starting limit.</param>
/// <param name="Total">The greatest total known from elsewhere; null for none.</param>
public sealed record GroupLife(
    int VisitorsAWeek,
    int VisitorsNow,
    int BusyMinuteVisitors,
    int PeopleAWeek,
    int Reviews,
    int RunningLow,
    decimal? Total
);

/// <summary>Advice on one kind.</summary>
/// <param name="Kind">The kind.</param>
/// <param name="Score">How well it would do: 0 (nothing to say) to 100.</param>
/// <param name="Because">Why, in one sentence.</param>
public sealed record KindAdvice(CalloutKind Kind, int Score, string Because);

/// <summary>Ranks the kinds of notification for a page group by what is recorded of it.</summary>
/// <remarks>
/// The rule of thumb behind it: on a quiet site totals and page views say more than single deeds; the number of people
/// here now only helps where it is seldom small; names and places come last, since a total feels more honest than a name.
/// </remarks>
public static class KindAdviser
{
    /// <summary>All kinds, the best first; of equals in the order of <see cref="CalloutKind"/>.</summary>
    public static IReadOnlyList<KindAdvice> Rank(GroupLife life) => [.. new[]
            {
                Tally(life),
                Moment(life),
                Headcount(life),
                Remainder(life),
                Quote(life),
                Standing(life),
                new KindAdvice(CalloutKind.Notice, 20, "It needs no events, so it can always be shown."),
                // Not a way to tell something: it stands by itself, after those that are.
                new KindAdvice(CalloutKind.Prompt, -1, "It tells nothing and asks: once they have seen what you make."),
            }.OrderByDescending(a => a.Score).ThenBy(a => a.Kind)];

    private static KindAdvice Tally(GroupLife life)
    {
        if (life.PeopleAWeek >= Plenty)
            return new KindAdvice(
                CalloutKind.Tally,
                90,
                $"{Number(life.PeopleAWeek)} people did something in the last week: a number of that size speaks for itself."
            );
        if (life.VisitorsAWeek >= Plenty)
            return new KindAdvice(
                CalloutKind.Tally,
                75,
                $"{Number(life.VisitorsAWeek)} visitors looked at these pages in the last week; count the looks, as {OnlyPeople(life)} did more than look."
            );
        return new KindAdvice(
            CalloutKind.Tally,
            life.PeopleAWeek >= StarterBrief.LeastNumber ? 45 : 10,
            $"{Capital(OnlyPeople(life))} did something in the last week; take a longer window, or all time."
        );
    }

    private static KindAdvice Moment(GroupLife life) =>
        life.PeopleAWeek >= StarterBrief.LeastNumber
            ? new KindAdvice(
                CalloutKind.Moment,
                Math.Min(80, 50 + life.PeopleAWeek),
                $"{Number(life.PeopleAWeek)} people in the last week give enough single events to tell."
            )
            : new KindAdvice(
                CalloutKind.Moment,
                5,
                $"{Capital(OnlyPeople(life))} did something in the last week, which is too few: the same event would come again and again."
            );

    private static KindAdvice Headcount(GroupLife life) =>
        life.BusyMinuteVisitors > StarterBrief.LeastNumber
            ? new KindAdvice(
                CalloutKind.Headcount,
                70,
                $"On a usual day {Number(life.BusyMinuteVisitors)} visitors open these pages within one minute."
            )
        : life.VisitorsNow > StarterBrief.LeastNumber
            ? new KindAdvice(
                CalloutKind.Headcount,
                60,
                $"{Number(life.VisitorsNow)} visitors are here now. {UsualMinute(life)}."
            )
        : new KindAdvice(CalloutKind.Headcount, 5, $"{UsualMinute(life)}, and a small number reads as nobody else.");

    private static KindAdvice Remainder(GroupLife life) =>
        life.RunningLow > 0
            ? new KindAdvice(
                CalloutKind.Remainder,
                65,
                $"{Number(life.RunningLow)} {(life.RunningLow == 1 ? "product is" : "products are")} running low."
            )
            : new KindAdvice(CalloutKind.Remainder, 0, "No stock level is known to be low.");

    private static KindAdvice Quote(GroupLife life) =>
        life.Reviews > 0
            ? new KindAdvice(
                CalloutKind.Quote,
                Math.Min(72, 50 + 4 * life.Reviews),
                $"{Number(life.Reviews)} {(life.Reviews == 1 ? "review" : "reviews")} can be shown, whatever the traffic."
            )
            : new KindAdvice(CalloutKind.Quote, 0, "There are no reviews yet.");

    private static KindAdvice Standing(GroupLife life) =>
        life.Total is { } total
            ? new KindAdvice(
                CalloutKind.Standing,
                life.PeopleAWeek < Plenty ? 68 : 55,
                $"A total of {total.ToString("N0", CultureInfo.InvariantCulture)} is known, and it does not depend on the traffic."
            )
            : new KindAdvice(CalloutKind.Standing, 0, "No total from elsewhere is known.");

    /// <summary>From here on a number impresses rather than disappoints.</summary>
    private const int Plenty = 20;

    private static string OnlyPeople(GroupLife life) =>
        life.PeopleAWeek switch
        {
            0 => "nobody",
            1 => "only 1 person",
            var people => $"only {Number(people)} people",
        };

    // What was counted is who opened a page within a minute, not who was still reading one.
    private static string UsualMinute(GroupLife life) =>
        life.BusyMinuteVisitors switch
        {
            0 => "On a usual day nobody opens these pages",
            1 => "On a usual day no more than 1 visitor opens these pages within one minute",
            var visitors =>
                $"On a usual day no more than {Number(visitors)} visitors open these pages within one minute",
        };

    private static string Capital(string text) => string.Concat(text[..1].ToUpperInvariant(), text[1..]);

    private static string Number(int number) => number.ToString("N0", CultureInfo.InvariantCulture);
}
