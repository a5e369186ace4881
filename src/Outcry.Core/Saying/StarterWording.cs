using Outcry.Core.Evidence;
using Outcry.Core.Planning;

namespace Outcry.Core.Saying;

/// <summary>The words a new moment starts with, and those the ledger uses where no callout words the event.</summary>
public static class StarterWording
{
    /// <summary>The starter message for a kind of event.</summary>
    public static string For(EventKind kind) =>
        kind switch
        {
            EventKind.Purchase => Subject + " bought **{{ product | default: \"a piece\" }}**",
            EventKind.Booking => Subject + " booked **{{ product | default: \"a place\" }}**",
            EventKind.SignUp => Subject + " signed up for letters",
            EventKind.Enquiry => Subject + " asked for a quote",
            EventKind.BasketAddition => Subject + " put **{{ product | default: \"a piece\" }}** into the basket",
            EventKind.Review => "**{{ name | default: someone }}** gave {{ stars }} of 5 stars: {{ words }}",
            EventKind.StockLevel => "**{{ left }}** left of **{{ product | default: \"this piece\" }}**",
            EventKind.Endorsement => "{{ words }} **{{ who | default: someone }}**, {{ role }}",
            EventKind.Post => "New to read: **{{ product | default: \"an article\" }}**",
            EventKind.Total => "**{{ total }}** {{ of | default: \"in all\" }}",
            EventKind.Own => "**{{ name | default: someone }}**: {{ event }} {{ from_place }}",
            _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, null),
        };

    /// <summary>The starter message for a kind of callout on a kind of event.</summary>
    public static string For(CalloutKind kind, EventKind of) =>
        kind switch
        {
            CalloutKind.Tally => People + Did(of) + " {{ period }}",
            CalloutKind.Headcount =>
                "**{{ number }}** {{ number | plural: one: \"person is\", other: \"people are\" }} looking around here now",
            CalloutKind.Remainder => "Only **{{ left }}** left of **{{ product | default: \"this piece\" }}**",
            CalloutKind.Quote => For(of is EventKind.Endorsement ? of : EventKind.Review),
            CalloutKind.Standing => For(EventKind.Total),
            CalloutKind.Notice => Placeholder,
            _ => For(of),
        };

    /// <summary>Stands where only the author can know what to say; it cannot go live.</summary>
    public const string Placeholder =
        "**Your news in a few words.** And a line that says what is in it for the reader.";

    /// <summary>Whether a message is one of the starters, left as it was.</summary>
    public static bool IsUntouched(string message) => Starters.Value.Contains(message);

    private static readonly Lazy<HashSet<string>> Starters = new(() =>
        [.. Enum.GetValues<CalloutKind>().SelectMany(k => Enum.GetValues<EventKind>().Select(e => For(k, e)))]
    );

    private const string People =
        "**{{ number }}** {{ number | plural: one: \"person has\", other: \"people have\" }} ";

    private static string Did(EventKind of) =>
        of switch
        {
            EventKind.Purchase => "bought from us",
            EventKind.Booking => "booked a place",
            EventKind.SignUp => "signed up for letters",
            EventKind.Enquiry => "asked for a quote",
            EventKind.BasketAddition => "put something into the basket",
            EventKind.Review => "written a review",
            _ => "done this",
        };

    private const string Subject = "**{{ name | default: someone }}** {{ from_place }}";
}
