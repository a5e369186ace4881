using System.Collections.Concurrent;
using Outcry.Standins.Site;

namespace Outcry.Standins.Outside;

/// <summary>A text message as a gateway takes it.</summary>
/// <param name="To">E.164.</param>
/// <param name="Id">One for all tries of it.</param>
internal sealed record SentText(string? To, string? Text, string? Id);

/// <summary>A text message that came.</summary>
internal sealed record ReceivedText(DateTimeOffset At, string To, string Text);

/// <summary>A gateway of text messages and the telephones behind it: what is taken can be read, and goes nowhere else.</summary>
internal sealed class Phone
{
    private const int MostKept = 1_000;
    private readonly ConcurrentQueue<ReceivedText> _texts = new();
    private readonly ConcurrentDictionary<string, bool> _known = new();

    public IReadOnlyList<ReceivedText> Texts => [.. _texts.Reverse()];

    /// <summary>Takes one, once for each id; false where the number is none that a gateway could reach.</summary>
    public bool Take(SentText text)
    {
        if (
            text is not { To: ['+', ..] to, Text: { Length: > 0 } words, Id: { } id }
            || to.EndsWith("0000000", StringComparison.Ordinal)
        )
            return false;
        if (!_known.TryAdd(id, true))
            return true;
        _texts.Enqueue(new ReceivedText(DateTimeOffset.UtcNow, to, words));
        while (_texts.Count > MostKept)
            _texts.TryDequeue(out _);
        return true;
    }

    public static IResult Page(Phone phone, SiteSettings settings, HttpContext http)
    {
        var texts = string.Concat(
            phone.Texts.Select(t =>
                $"<article><h2>to {Html.Text(t.To)}</h2><p class=\"small\">{t.At:HH:mm:ss}</p><pre>{Html.Text(t.Text)}</pre></article>"
            )
        );
        return Html.Page(
            settings with
            {
                SiteKey = "",
            },
            http,
            "Phone",
            $"<section class=\"text\"><h1>Phone</h1><p>Text messages that the desk has sent, to whomever; nothing leaves this machine.</p>{(texts.Length > 0 ? texts : "<p>Nothing yet.</p>")}</section>"
        );
    }
}
