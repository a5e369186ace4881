using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Greetings;

/// <summary>A way to talk.</summary>
public enum ChannelKind
{
    /// <summary>On the page: a message is written in the panel.</summary>
    Chat,

    /// <summary>A form with several fields.</summary>
    Form,

    /// <summary>A call.</summary>
    Phone,

    /// <summary>A text message.</summary>
    Text,

    /// <summary>An e-mail.</summary>
    Email,

    /// <summary>A messaging app, by the links it is opened with.</summary>
    Messenger,

    /// <summary>Any address: a booking page, a help page.</summary>
    Link,
}

/// <summary>When a channel is offered.</summary>
public enum ChannelHours
{
    /// <summary>Always.</summary>
    Always,

    /// <summary>While the launcher is open.</summary>
    WhileOpen,

    /// <summary>At hours of its own, in the launcher's time zone and with its closed dates.</summary>
    Own,
}

/// <summary>What a field of a form asks for.</summary>
public enum AskedField
{
    /// <summary>A name.</summary>
    Name,

    /// <summary>An e-mail address.</summary>
    Email,

    /// <summary>A phone number.</summary>
    Phone,

    /// <summary>A message of several lines.</summary>
    Message,
}

/// <summary>A field of a form.</summary>
/// <param name="Field">What it asks for.</param>
/// <param name="Needed">Whether nothing is sent without it.</param>
public sealed record FormField(AskedField Field, bool Needed);

/// <summary>A channel's words in one language.</summary>
/// <param name="Language">BCP 47 tag.</param>
/// <param name="Label">Its name in the panel; empty for the built-in one.</param>
/// <param name="Prefill">Words that a mail or a message begins with; Liquid.</param>
public sealed record ChannelWords(string Language, string Label, string Prefill);

/// <summary>One way to talk, as its author wrote it.</summary>
/// <param name="Id">Under which its clicks are counted.</param>
/// <param name="Kind">Which way.</param>
/// <param name="Target">The number, e-mail address, handle or address; empty for what is written on the page.</param>
/// <param name="AppLink">Of a messaging app: the link that opens the app, with {number}, {handle} and {text}; empty for none.</param>
/// <param name="WebLink">The same of its web version, opened where the app does not answer.</param>
/// <param name="Label">Its name in the panel in the site's own language; empty for the built-in one.</param>
/// <param name="Prefill">Words that a mail or a message begins with; Liquid with {{ page }} and {{ site }}.</param>
/// <param name="Translations">Label and prefill in other languages.</param>
/// <param name="Hours">When it is offered.</param>
/// <param name="Week">Its own hours, where it has some.</param>
/// <param name="HiddenOn">Devices on which it is not offered.</param>
/// <param name="Fields">Of a form: its fields, in order.</param>
/// <param name="NewWindow">Whether an address opens in a window of its own.</param>
public sealed record Channel(
    Guid Id,
    ChannelKind Kind,
    string Target,
    string AppLink,
    string WebLink,
    string Label,
    string Prefill,
    IReadOnlyList<ChannelWords> Translations,
    ChannelHours Hours,
    IReadOnlyList<HoursSpan> Week,
    IReadOnlyList<Device> HiddenOn,
    IReadOnlyList<FormField> Fields,
    bool NewWindow
)
{
    /// <summary>Whether what is written in the panel is sent to the team.</summary>
    public bool IsWritten => Kind is ChannelKind.Chat or ChannelKind.Form;

    /// <summary>What is asked for: of a chat a message and where to answer it.</summary>
    public IReadOnlyList<FormField> Asked =>
        Kind switch
        {
            ChannelKind.Chat => [new FormField(AskedField.Message, true), new FormField(AskedField.Email, true)],
            ChannelKind.Form => Fields,
            _ => [],
        };

    /// <summary>Its words for a reader: those of the language, else the author's own.</summary>
    public (string Label, string Prefill) In(string language)
    {
        var words = Translations.FirstOrDefault(t =>
            Saying.LanguageTag.Chain(language).Contains(t.Language, StringComparer.OrdinalIgnoreCase)
        );
        return words is null
            ? (Label, Prefill)
            : (words.Label.Length > 0 ? words.Label : Label, words.Prefill.Length > 0 ? words.Prefill : Prefill);
    }
}
