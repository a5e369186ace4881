using Outcry.Core.Evidence;

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
            EventKind.StockLevel => "**{{ left }}** left of **{{ product }}**",
            EventKind.Endorsement => "{{ words }} **{{ who | default: someone }}**, {{ role }}",
            EventKind.Post => "New to read: **{{ product }}**",
            EventKind.Total => "**{{ total }}** {{ of | default: \"in all\" }}",
            EventKind.Own => "**{{ name | default: someone }}**: {{ event }} {{ from_place }}",
            _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, null),
        };

    /// <summary>Whether a message is one of the starters, left as it was.</summary>
    public static bool IsUntouched(string message) => Enum.GetValues<EventKind>().Any(k => For(k) == message);

    private const string Subject = "**{{ name | default: someone }}** {{ from_place }}";
}
