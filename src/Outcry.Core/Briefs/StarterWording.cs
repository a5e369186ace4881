using System.Text.Json;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;

namespace Outcry.Core.Briefs;

/// <summary>The words a new callout starts with, in every shipped language, and those the ledger uses where no callout words the event.</summary>
public static class StarterWording
{
    private static readonly IReadOnlyDictionary<string, Words> Shipped = LanguageData.Read<Dictionary<string, Words>>(
        "starter-wording.json"
    );

    /// <summary>Main languages in which there are starter words.</summary>
    public static IReadOnlyCollection<string> Languages => [.. Shipped.Keys];

    /// <summary>The starter message for a kind of event.</summary>
    /// <param name="kind">What happened.</param>
    /// <param name="language">BCP 47 tag; English where there are no starter words of it.</param>
    public static string For(EventKind kind, string language = "en") => In(language).Event(kind);

    /// <summary>The starter message for a kind of callout on a kind of event.</summary>
    /// <param name="kind">The kind of callout.</param>
    /// <param name="of">What it draws on; ignored by kinds that draw on nothing.</param>
    /// <param name="language">BCP 47 tag; English where there are no starter words of it.</param>
    public static string For(CalloutKind kind, EventKind of, string language = "en")
    {
        var words = In(language);
        return kind switch
        {
            CalloutKind.Tally => words.People.Replace("{d}", words.DoneBy(of), StringComparison.Ordinal),
            CalloutKind.Headcount => words.Headcount,
            CalloutKind.Remainder => words.Remainder,
            CalloutKind.Quote => words.Event(of is EventKind.Endorsement ? of : EventKind.Review),
            CalloutKind.Standing => words.Event(EventKind.Total),
            CalloutKind.Notice or CalloutKind.Prompt => words.Placeholder,
            _ => words.Event(of),
        };
    }

    /// <summary>Whether a message stands where only the author can know what to say; it cannot go live.</summary>
    public static bool IsPlaceholder(string message) => Placeholders.Value.Contains(message);

    /// <summary>Whether a message is one of the starters, left as it was.</summary>
    public static bool IsUntouched(string message) => Starters.Value.Contains(message);

    /// <summary>A brief whose starter words, where they were left alone, fit what it draws on now.</summary>
    /// <param name="brief">The brief as its author has it.</param>
    /// <param name="of">The kind of event of its first source; null when none is chosen.</param>
    /// <param name="own">BCP 47 tag of the site's own language.</param>
    public static Brief Follow(Brief brief, EventKind? of, string own)
    {
        if (of is not { } kind)
            return brief;
        var say = brief.Say;
        string Fitting(string message, string language) =>
            IsUntouched(message) && !IsPlaceholder(message) ? For(brief.Kind, kind, language) : message;
        var message = Fitting(say.Message, own);
        var translations = say.Translations.Select(t => t with { Message = Fitting(t.Message, t.Language) }).ToList();
        return message == say.Message && translations.SequenceEqual(say.Translations)
            ? brief
            : brief with
            {
                Say = say with { Message = message, Translations = translations },
            };
    }

    private static Words In(string language) => Shipped.GetValueOrDefault(LanguageTag.Main(language)) ?? Shipped["en"];

    private static readonly Lazy<HashSet<string>> Placeholders = new(() =>
        [.. Shipped.Values.Select(w => w.Placeholder)]
    );

    private static readonly Lazy<HashSet<string>> Starters = new(() =>
        [
            .. Shipped.Keys.SelectMany(l =>
                Enum.GetValues<CalloutKind>().SelectMany(k => Enum.GetValues<EventKind>().Select(e => For(k, e, l)))
            ),
        ]
    );

    /// <summary>The starter words of one language. "{s}" stands for who did it, "{d}" for what people did.</summary>
    private sealed record Words(
        string Subject,
        IReadOnlyDictionary<string, string> Events,
        string People,
        IReadOnlyDictionary<string, string> Did,
        string Headcount,
        string Remainder,
        string Placeholder
    )
    {
        public string Event(EventKind kind) =>
            Events.TryGetValue(Key(kind), out var words)
                ? words.Replace("{s}", Subject, StringComparison.Ordinal)
                : throw new ArgumentOutOfRangeException(nameof(kind), kind, null);

        public string DoneBy(EventKind kind) => Did.GetValueOrDefault(Key(kind)) ?? Did["other"];

        private static string Key(EventKind kind) => JsonNamingPolicy.CamelCase.ConvertName(kind.ToString());
    }
}
