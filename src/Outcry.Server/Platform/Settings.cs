using System.Globalization;
using System.Net;
using System.Text;
using Microsoft.Extensions.Configuration.EnvironmentVariables;
using Microsoft.Extensions.Configuration.Ini;
using Microsoft.Extensions.FileProviders;

namespace Outcry.Server.Platform;

/// <summary>One setting of the house.</summary>
/// <param name="Key">Its name: "Mail:Host"; in the environment "Mail__Host", in the file "Host" under "[Mail]".</param>
/// <param name="Default">What counts where it is not set, as it would be written; empty for nothing.</param>
/// <param name="Words">What it does, for whoever runs the house.</param>
/// <param name="Fault">What is wrong with a value; null for nothing.</param>
internal sealed record Setting(string Key, string Default, string Words, Func<string, string?> Fault);

/// <summary>Every setting of the house, once: read from the file that "OUTCRY_SETTINGS" names and, before that, from the environment; checked at the start.</summary>
internal static class Settings
{
    /// <summary>The variable of the environment that names the file.</summary>
    public const string FileVariable = "OUTCRY_SETTINGS";

    public static IReadOnlyList<Setting> All { get; } =
    [
        new(
            "ConnectionStrings:Outcry",
            "",
            "The PostgreSQL database (15 or newer), as Npgsql writes it: Host=…;Database=…;Username=…;Password=…. Without it ./outcry serve starts a private one on this machine.",
            _ => null
        ),
        new(
            "Desk:Address",
            "",
            "Where the desk is reached, https://… as people type it. Links in mails and passkeys go by it; set it wherever strangers reach the desk.",
            v => IsAddress(v, "https", "http") ? null : "is no address. Write one such as https://desk.example"
        ),
        new(
            "Keys:File",
            "",
            "A file (PKCS #12) with the key that encrypts the keys in the database; made at the first start. Keep a copy apart from the database. ./outcry serve sets one.",
            _ => null
        ),
        new(
            "Proxies",
            "",
            "Networks of proxies whose X-Forwarded-For and X-Forwarded-Proto are believed, besides this machine: 10.0.0.0/8, fd00::/8.",
            v =>
                v.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                    .All(n => IPNetwork.TryParse(n, out _))
                    ? null
                    : "is no list of networks. Write them such as 10.0.0.0/8, fd00::/8"
        ),
        new(
            "Opening:Key",
            "",
            "The one-time key with which the first workspace is opened. Without it each start prints one, as long as nobody has an account.",
            v => v.Length >= 12 ? null : "is too short for a key. Write at least 12 characters"
        ),
        new(
            "Registration:Open",
            "false",
            "Whether strangers may open workspaces of their own, once their address is confirmed by mail.",
            Flag
        ),
        new(
            "Mail:Host",
            "",
            "The mail server (SMTP). Without it nothing is mailed; invitations give a link to be sent by hand.",
            _ => null
        ),
        new("Mail:Port", "587", "Its port.", v => Whole(v, 1, 65_535)),
        new("Mail:Tls", "true", "Whether mails go over TLS where the server offers it.", Flag),
        new(
            "Mail:From",
            "outcry@localhost",
            "Who mails come from.",
            v => MimeKit.MailboxAddress.TryParse(v, out _) ? null : "is no e-mail address"
        ),
        new("Mail:User", "", "The account at the mail server.", _ => null),
        new("Mail:Password", "", "Its password.", _ => null),
        new(
            "Mail:Bounces",
            "",
            "Where mails to leads come back to, as bounces@pots.example; its server hands them on to /in/bounces. Without it only what is refused at once is noted.",
            v =>
                MimeKit.MailboxAddress.TryParse(v, out var to) && to.Address == v && v.IndexOf('@') is > 0 and <= 14
                    ? null
                    : "is no e-mail address of at most 14 letters before the @"
        ),
        new(
            "Mail:BounceKey",
            "",
            "The key that server shows there, as \"Authorization: Bearer …\".",
            v => v.Length >= 16 ? null : "is too short for a key. Write at least 16 characters"
        ),
        new(
            "Texts:Gateway",
            "",
            "The address to which text messages are posted. Without it none is sent.",
            v =>
                Uri.TryCreate(v, UriKind.Absolute, out var at) && at.Scheme is "http" or "https"
                    ? null
                    : "is no web address"
        ),
        new(
            "Texts:Type",
            "application/json",
            "The type of what is posted; it decides how {to}, {text} and {id} are written into it.",
            v => System.Net.Http.Headers.MediaTypeHeaderValue.TryParse(v, out _) ? null : "is no media type"
        ),
        new(
            "Texts:Body",
            """{"to":"{to}","text":"{text}","id":"{id}"}""",
            "What is posted: {to} is the number (E.164), {text} the words, {id} the same for each try of a message.",
            v =>
                v.Contains("{to}", StringComparison.Ordinal) && v.Contains("{text}", StringComparison.Ordinal)
                    ? null
                    : "names no {to} or no {text}"
        ),
        new("Texts:Authorization", "", "What the gateway is shown as Authorization, as \"Bearer …\".", _ => null),
        new(
            "Places:File",
            "",
            "A table of networks and places (MaxMind DB format), from which a visitor's rough place is read. Without it nobody has one.",
            v => System.IO.File.Exists(v) ? null : "names no file that is there"
        ),
        new(
            "Fetch:AllowedPrivateHosts",
            "",
            "Hosts on private networks from which lists, feeds and pictures may be fetched, with their ports: intranet:8080.",
            _ => null
        ),
        new(
            "Limits:SignInsPerMinute",
            "20",
            "Tries at the door a minute from one network block.",
            v => Whole(v, 1, 100_000)
        ),
        new("Limits:IntakePerSecond", "100", "Deliveries a second to one source.", v => Whole(v, 1, 1_000_000)),
        new(
            "Limits:VisitorPerSecond",
            "200",
            "Requests of visitors a second from one network block.",
            v => Whole(v, 1, 1_000_000)
        ),
        new(
            "Limits:EventsPerVisitorAndMinute",
            "10",
            "Events a minute from one visitor's browser.",
            v => Whole(v, 1, 1_000_000)
        ),
        new("Limits:EventsPerVisitorAndHour", "60", "The same an hour.", v => Whole(v, 1, 1_000_000)),
        new(
            "Limits:EventsPerAddressAndMinute",
            "60",
            "Events a minute from one network block.",
            v => Whole(v, 1, 1_000_000)
        ),
        new("Limits:EventsPerAddressAndHour", "600", "The same an hour.", v => Whole(v, 1, 1_000_000)),
        new("Limits:SourcesPerSite", "60", "Sources that one site listens to.", v => Whole(v, 1, 10_000)),
        new(
            "Telemetry:Otlp",
            "",
            "A collector for traces and figures (OpenTelemetry): http://127.0.0.1:4317. Without it they go nowhere.",
            v => IsAddress(v, "http", "https") ? null : "is no address. Write one such as http://127.0.0.1:4317"
        ),
        new(
            "Telemetry:Protocol",
            "grpc",
            "How the collector is spoken to: grpc or http/protobuf.",
            v => v is "grpc" or "http/protobuf" ? null : "is neither grpc nor http/protobuf"
        ),
        new("Migrate", "true", "Whether the start brings the database to this version's shape.", Flag),
    ];

    /// <summary>Reads the file that the environment names, so that what the environment says itself goes before it.</summary>
    public static void AddSettingsFile(this WebApplicationBuilder builder)
    {
        if (Environment.GetEnvironmentVariable(FileVariable) is not { Length: > 0 } path)
            return;
        var full = Path.GetFullPath(path);
        var sources = builder.Configuration.Sources;
        var environment = sources
            .ToList()
            .FindIndex(s => s is EnvironmentVariablesConfigurationSource { Prefix: null or "" });
        sources.Insert(
            environment < 0 ? sources.Count : environment,
            new IniConfigurationSource
            {
                FileProvider = new PhysicalFileProvider(Path.GetDirectoryName(full)!),
                Path = Path.GetFileName(full),
            }
        );
    }

    /// <summary>What is wrong with the settings, one sentence each; empty for nothing.</summary>
    public static IReadOnlyList<string> Faults(IConfiguration configuration)
    {
        var faults = new List<string>();
        foreach (var setting in All)
            if (configuration[setting.Key] is { Length: > 0 } value && setting.Fault(value) is { } fault)
                faults.Add($"The setting {setting.Key} is \"{value}\", which {fault}.");
        if (
            string.IsNullOrEmpty(configuration["Mail:Bounces"]) != string.IsNullOrEmpty(configuration["Mail:BounceKey"])
        )
            faults.Add("Mail:Bounces and Mail:BounceKey are set together or not at all: neither does anything alone.");
        if (configuration.GetSection("Proxies").GetChildren().Any())
            faults.Add("The setting Proxies is one list of networks, such as 10.0.0.0/8, fd00::/8; it has no parts.");
        var known = All.Select(s => s.Key).ToHashSet(StringComparer.OrdinalIgnoreCase);
        foreach (
            var section in All.Where(s => s.Key.Contains(':', StringComparison.Ordinal))
                .Select(s => s.Key.Split(':')[0])
                .Distinct()
        )
        foreach (var (key, value) in configuration.GetSection(section).AsEnumerable())
            if (key != section && !string.IsNullOrEmpty(value) && !known.Contains(key))
                faults.Add($"There is no setting {key}.{Nearest(key)} ./outcry settings prints them all.");
        return faults;
    }

    /// <summary>The file with every setting, each with its words and what counts without it.</summary>
    public static string Document()
    {
        var file = new StringBuilder();
        file.AppendLine("; Settings of Outcry. What is commented out stands as it counts without it.");
        file.AppendLine(
            "; Name this file with --settings, or with OUTCRY_SETTINGS; a variable such as Mail__Host goes before it."
        );
        var sections = All.GroupBy(s => s.Key.Contains(':', StringComparison.Ordinal) ? s.Key.Split(':')[0] : "");
        foreach (var section in sections.OrderBy(s => s.Key.Length > 0))
        {
            if (section.Key.Length > 0)
                file.AppendLine().AppendLine(CultureInfo.InvariantCulture, $"[{section.Key}]");
            foreach (var setting in section)
                file.AppendLine()
                    .AppendLine(CultureInfo.InvariantCulture, $"; {setting.Words}")
                    .AppendLine(CultureInfo.InvariantCulture, $";{setting.Key.Split(':')[^1]}={setting.Default}");
        }
        return file.ToString();
    }

    private static string Nearest(string key)
    {
        var last = key.Split(':')[^1];
        var near = All.Select(s => s.Key)
            .FirstOrDefault(k =>
                k.Split(':')[^1].StartsWith(last[..Math.Min(4, last.Length)], StringComparison.OrdinalIgnoreCase)
            );
        return near is null ? "" : $" Is {near} meant?";
    }

    private static string? Flag(string value) => bool.TryParse(value, out _) ? null : "is neither true nor false";

    private static string? Whole(string value, int least, int most) =>
        int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out var number)
        && number >= least
        && number <= most
            ? null
            : $"is no whole number from {least} to {most}";

    private static bool IsAddress(string value, params ReadOnlySpan<string> schemes) =>
        Uri.TryCreate(value, UriKind.Absolute, out var address) && schemes.Contains(address.Scheme);
}
