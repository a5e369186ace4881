using System.Text.RegularExpressions;
using Outcry.Core.Care;
using Outcry.Core.Saying;

namespace Outcry.Core.Greetings;

/// <summary>Where a channel leads, checked and made ready to be opened.</summary>
public static partial class ChannelAddress
{
    /// <summary>Longest handle or template taken.</summary>
    public const int LongestPart = 300;

    // What a browser would run or read as a page of its own, whatever follows.
    private static readonly string[] Unsafe =
    [
        "javascript",
        "data",
        "vbscript",
        "file",
        "blob",
        "about",
        "filesystem",
        "view-source",
        "ftp",
    ];

    /// <summary>What is wrong with a channel's address, as a sentence; null when it can be opened.</summary>
    /// <param name="channel">The channel.</param>
    /// <param name="region">Where a number without a country code is dialled: ISO 3166-1.</param>
    /// <param name="ownDomains">Domains of the team itself: of these a reserved one is no sample but how a demonstration looks.</param>
    public static string? Objection(Channel channel, string region, IReadOnlyCollection<string> ownDomains) =>
        channel.Kind switch
        {
            ChannelKind.Phone or ChannelKind.Text => OfNumber(channel.Target, region),
            ChannelKind.Email => OfMail(channel.Target, ownDomains),
            ChannelKind.Link => OfLink(channel.Target, ownDomains),
            ChannelKind.Messenger => OfMessenger(channel, region),
            _ => null,
        };

    /// <summary>A number as E.164; null when it is none.</summary>
    public static string? NumberOf(string target, string region) => PhoneNumber.ToE164(target, region);

    /// <summary>What is wrong with an e-mail address; null when mail can be sent there.</summary>
    public static string? OfMail(string target, IReadOnlyCollection<string> ownDomains)
    {
        if (target.Trim().Length == 0)
            return "Write the e-mail address.";
        if (!Mail().IsMatch(target))
            return $"\"{target}\" is no e-mail address. It looks like name@studio.com.";
        var host = target[(target.LastIndexOf('@') + 1)..];
        return ReservedNames.IsHost(host) && !IsOwn(host, ownDomains)
            ? $"Nobody can be reached at {host}: it is kept for examples. Write your own address."
            : null;
    }

    private static string? OfNumber(string target, string region)
    {
        if (target.Trim().Length == 0)
            return "Write the number, with its country code: +44 …";
        if (PhoneNumber.ToE164(target, region) is not { } number)
            return $"\"{target}\" is no number that could be dialled. Write it with its country code: +44 …";
        return ReservedNames.IsNumber(number)
            ? $"{number} is a sample: nobody is behind it. Write your own number."
            : null;
    }

    private static string? OfLink(string target, IReadOnlyCollection<string> ownDomains)
    {
        if (target.Trim().Length == 0)
            return "Write the address it leads to: https://… or a path of the site such as /help.";
        if (
            SafeLink.TryPass(target) is not { } passed
            || !(passed[0] == '/' || passed.StartsWith("http", StringComparison.OrdinalIgnoreCase))
        )
            return $"\"{target}\" is no address of a page. Write https://… or a path of the site such as /help.";
        return
            Uri.TryCreate(passed, UriKind.Absolute, out var uri)
            && uri.Scheme is "http" or "https"
            && ReservedNames.IsHost(uri!.Host)
            && !IsOwn(uri.Host, ownDomains)
            ? $"There is no page at {uri.Host}: it is kept for examples. Write your own address."
            : null;
    }

    private static string? OfMessenger(Channel channel, string region)
    {
        if (channel.WebLink.Trim().Length == 0)
            return "Write the link of its web version, such as https://chat.studio.com/{handle}: it is opened where the app is not there.";
        if (channel.WebLink.Length > LongestPart || channel.AppLink.Length > LongestPart)
            return $"A link has at most {LongestPart} characters.";
        foreach (var link in new[] { channel.WebLink, channel.AppLink })
            if (
                Slot()
                    .Matches(link)
                    .Select(m => m.Value)
                    .FirstOrDefault(s => s is not ("{number}" or "{handle}" or "{text}")) is
                { } unknown
            )
                return $"{unknown} is not known here. A link can hold {{number}}, {{handle}} and {{text}}.";
        if (
            SafeLink.TryPass(Fill(channel.WebLink, "1", "a", "")) is not { } web
            || !web.StartsWith("http", StringComparison.OrdinalIgnoreCase)
        )
            return "The web link begins with https://.";
        if (channel.AppLink.Length > 0 && !IsAppLink(channel.AppLink))
            return "The app's link begins with its own scheme, such as app://.";
        if (Uses(channel, "{number}") && OfNumber(channel.Target, region) is { } bad)
            return bad;
        return Uses(channel, "{handle}") && channel.Target.Trim().Length == 0
            ? "Write the handle under which the team is found there."
            : null;
    }

    /// <summary>Whether a link opens an app and nothing else: a scheme that no browser runs itself.</summary>
    public static bool IsAppLink(string link) =>
        Scheme().Match(link) is { Success: true } match
        && !Unsafe.Contains(match.Groups[1].Value.ToLowerInvariant())
        && !link.Any(c => char.IsControl(c) || char.IsWhiteSpace(c));

    /// <summary>Where a click leads.</summary>
    /// <param name="channel">A channel that <see cref="Objection"/> has nothing against.</param>
    /// <param name="region">Where a number without a country code is dialled.</param>
    /// <param name="text">The words it begins with; empty for none.</param>
    /// <returns>The address, and for a messaging app the link that is tried first.</returns>
    public static (string Address, string App) Open(Channel channel, string region, string text)
    {
        var target = channel.Target.Trim();
        switch (channel.Kind)
        {
            case ChannelKind.Phone:
                return ($"tel:{NumberOf(target, region)}", "");
            case ChannelKind.Text:
                // RFC 5724; what a message begins with is not in it, and is read by phones all the same.
                return (
                    $"sms:{NumberOf(target, region)}{(text.Length > 0 ? $"?body={Uri.EscapeDataString(text)}" : "")}",
                    ""
                );
            case ChannelKind.Email:
                return ($"mailto:{target}{(text.Length > 0 ? $"?body={Uri.EscapeDataString(text)}" : "")}", "");
            case ChannelKind.Link:
                return (target, "");
            case ChannelKind.Messenger:
                var number = NumberOf(target, region) ?? "";
                return (
                    Fill(channel.WebLink, number.TrimStart('+'), target, text),
                    Fill(channel.AppLink, number.TrimStart('+'), target, text)
                );
            default:
                return ("", "");
        }
    }

    private static string Fill(string template, string number, string handle, string text) =>
        template
            .Replace("{number}", Uri.EscapeDataString(number), StringComparison.Ordinal)
            .Replace("{handle}", Uri.EscapeDataString(handle.TrimStart('@')), StringComparison.Ordinal)
            .Replace("{text}", Uri.EscapeDataString(text), StringComparison.Ordinal);

    private static bool Uses(Channel channel, string slot) =>
        channel.WebLink.Contains(slot, StringComparison.Ordinal)
        || channel.AppLink.Contains(slot, StringComparison.Ordinal);

    private static bool IsOwn(string host, IReadOnlyCollection<string> ownDomains) =>
        ownDomains.Any(d =>
            host.Equals(d, StringComparison.OrdinalIgnoreCase)
            || host.EndsWith($".{d}", StringComparison.OrdinalIgnoreCase)
        );

    [GeneratedRegex(
        @"^[^\s@<>""(),;:\\]{1,64}@[A-Za-z0-9\u0080-\uFFFF](?:[A-Za-z0-9\u0080-\uFFFF.-]{0,250})\.[A-Za-z0-9\u0080-\uFFFF-]{2,}$"
    )]
    private static partial Regex Mail();

    [GeneratedRegex(@"\{[^}]*\}?")]
    private static partial Regex Slot();

    [GeneratedRegex(@"^([a-zA-Z][a-zA-Z0-9+.-]*):(?://)?\S")]
    private static partial Regex Scheme();
}
