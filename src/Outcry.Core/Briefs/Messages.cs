using System.Collections.Concurrent;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;

namespace Outcry.Core.Briefs;

/// <summary>A wording parsed, with the voice it is spoken in.</summary>
/// <remarks>One and the same object for all readers who are spoken to alike, so that what is worded once is found again.</remarks>
/// <param name="message">What it says.</param>
/// <param name="detail">The line under it; null for none.</param>
/// <param name="button">Words of the button; empty for none.</param>
/// <param name="voice">In which language and whose figures.</param>
public sealed class SpokenWording(MessageTemplate message, MessageTemplate? detail, string button, Voice voice)
{
    /// <summary>A message alone, as starter words are.</summary>
    /// <exception cref="FormatException">It cannot be read.</exception>
    public static SpokenWording Of(string message, Voice voice) =>
        new(MessageTemplate.TryParse(message, out var error) ?? throw new FormatException(error), null, "", voice);

    /// <summary>What it says.</summary>
    public MessageTemplate Message => message;

    /// <summary>The line under it; null for none.</summary>
    public MessageTemplate? Detail => detail;

    /// <summary>Words of the button; empty for none.</summary>
    public string Button => button;

    /// <summary>In which language and whose figures.</summary>
    public Voice Voice => voice;
}

/// <summary>A callout's wordings in all its languages, and which of them a visitor reads.</summary>
public sealed class Messages
{
    private const int MostVoices = 200;

    private readonly Dictionary<string, Wording> _byLanguage = new(StringComparer.OrdinalIgnoreCase);
    private readonly string[] _languages;
    private readonly SiteContext _shared;
    private readonly ConcurrentDictionary<string, SpokenWording> _spoken = new(StringComparer.OrdinalIgnoreCase);

    /// <summary>Parses the wordings.</summary>
    /// <exception cref="FormatException">One of them cannot be read.</exception>
    public Messages(SayFacet say, SiteContext shared)
    {
        _shared = shared;
        _byLanguage[shared.Language] = new Wording(shared.Language, say.Message, say.Detail, say.Button);
        foreach (var other in say.Translations)
            _byLanguage[other.Language] = other;
        _languages = [.. _byLanguage.Keys];
        Own = Parse(shared.Language, []);
        foreach (var other in say.Translations)
            Parse(other.Language, []);
    }

    /// <summary>The wording in the site's own language.</summary>
    public SpokenWording Own { get; }

    /// <summary>The wording for a reader: the longest match of a language the reader wants, else the site's own.</summary>
    /// <param name="readers">BCP 47 tags, the most wanted first.</param>
    public SpokenWording For(IReadOnlyList<string> readers)
    {
        if (readers.Count == 0)
            return Own;
        var key = readers.Count == 1 ? readers[0] : string.Join(',', readers);
        if (_spoken.TryGetValue(key, out var spoken))
            return spoken;
        spoken = Parse(LanguageTag.Choose(readers, _languages) ?? _shared.Language, readers);
        // Browsers may send any list at all; remembering the usual ones is enough.
        if (_spoken.Count < MostVoices)
            _spoken[key] = spoken;
        return spoken;
    }

    private SpokenWording Parse(string language, IReadOnlyList<string> readers)
    {
        var wording = _byLanguage[language];
        return new SpokenWording(
            Template(wording.Message),
            wording.Detail.Length == 0 ? null : Template(wording.Detail),
            wording.Button,
            Voice.Of(language, readers, _shared.WordsOf(language))
        );
    }

    private static MessageTemplate Template(string text) =>
        MessageTemplate.TryParse(text, out var error) ?? throw new FormatException(error);
}
