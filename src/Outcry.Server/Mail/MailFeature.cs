using MailKit.Net.Smtp;
using MailKit.Security;
using MimeKit;
using Outcry.Server.Platform;

namespace Outcry.Server.Mail;

/// <summary>A mail to one person.</summary>
/// <param name="ReplyTo">Who is to be answered; null for whoever sends it.</param>
/// <param name="Html">The same as a page; null for text alone.</param>
/// <param name="LeaveAt">Where one press takes back what was agreed to (RFC 8058); null for nowhere.</param>
/// <param name="Calendar">An iCalendar invitation; null for none.</param>
internal sealed record Letter(
    string To,
    string Subject,
    string Text,
    string? ReplyTo = null,
    string? Html = null,
    string? LeaveAt = null,
    string? Calendar = null
)
{
    /// <summary>By which it is known should it come back; null where nobody asks.</summary>
    public Guid? ComesBackAs { get; init; }
}

/// <summary>What became of something that was to be sent.</summary>
internal enum Sending
{
    /// <summary>It was taken.</summary>
    Taken,

    /// <summary>Not now: it is tried again.</summary>
    Later,

    /// <summary>Nobody has that address: it is not tried again.</summary>
    Nobody,
}

/// <summary>Sends mails through the SMTP server of the settings under "Mail".</summary>
internal sealed partial class Postman(IConfiguration configuration, BounceAddress returnPath, ILogger<Postman> log)
{
    private readonly string _host = configuration["Mail:Host"] ?? "";

    /// <summary>Whether a server is set; without one nothing can be sent.</summary>
    public bool IsSet => _host.Length > 0;

    /// <summary>Sends it; false when the server would not take it.</summary>
    public async Task<bool> TrySendAsync(Letter letter, CancellationToken stop) =>
        await SendAsync(letter, stop) == Sending.Taken;

    /// <summary>Sends it, if the server takes it, and tells what became of it.</summary>
    public async Task<Sending> SendAsync(Letter letter, CancellationToken stop)
    {
        var message = new MimeMessage { Subject = letter.Subject, Body = BodyOf(letter) };
        if (letter.LeaveAt is { } leave)
        {
            message.Headers.Add(HeaderId.ListUnsubscribe, $"<{leave}>");
            message.Headers.Add("List-Unsubscribe-Post", "List-Unsubscribe=One-Click");
        }
        message.From.Add(MailboxAddress.Parse(configuration["Mail:From"] ?? "outcry@localhost"));
        message.To.Add(MailboxAddress.Parse(letter.To));
        if (letter.ReplyTo is not null && MailboxAddress.TryParse(letter.ReplyTo, out var answer))
            message.ReplyTo.Add(answer);
        try
        {
            using var smtp = new SmtpClient();
            var security = configuration.GetValue("Mail:Tls", true)
                ? SecureSocketOptions.StartTlsWhenAvailable
                : SecureSocketOptions.None;
            await smtp.ConnectAsync(_host, configuration.GetValue("Mail:Port", 587), security, stop);
            if (configuration["Mail:User"] is { Length: > 0 } user)
                await smtp.AuthenticateAsync(user, configuration["Mail:Password"] ?? "", stop);
            if (letter.ComesBackAs is { } id && returnPath.Of(id) is { } comesBackTo)
                await smtp.SendAsync(message, comesBackTo, message.To.Mailboxes, stop);
            else
                await smtp.SendAsync(message, stop);
            await smtp.DisconnectAsync(quit: true, stop);
            Telemetry.Mailed(isWell: true);
            return Sending.Taken;
        }
        catch (Exception bad)
            when (bad
                    is SmtpCommandException
                        or SmtpProtocolException
                        or IOException
                        or System.Net.Sockets.SocketException
                        or AuthenticationException
            )
        {
            NotSent(bad);
            Telemetry.Mailed(isWell: false);
            return bad is SmtpCommandException refused && IsNobody(refused) ? Sending.Nobody : Sending.Later;
        }
    }

    // RFC 5321 §4.2.3: there is no such mailbox, here or anywhere. What is refused by a rule (RFC 3463, 5.7) says nothing of the address.
    private static bool IsNobody(SmtpCommandException refused) =>
        refused.ErrorCode == SmtpErrorCode.RecipientNotAccepted
        && (int)refused.StatusCode is 550 or 551 or 553
        && !refused.Message.TrimStart().StartsWith("5.7", StringComparison.Ordinal);

    // An invitation is another way to read the same mail (RFC 6047 §2.4), and a file for programs that know no such mails.
    private static MimeEntity BodyOf(Letter letter)
    {
        var text = new TextPart("plain") { Text = letter.Text };
        if (letter.Html is null && letter.Calendar is null)
            return text;
        var ways = new MultipartAlternative { text };
        if (letter.Html is { } html)
            ways.Add(new TextPart("html") { Text = html });
        if (letter.Calendar is not { } calendar)
            return ways;
        var method = calendar.Contains("METHOD:CANCEL", StringComparison.Ordinal) ? "CANCEL" : "REQUEST";
        var invitation = new TextPart("calendar") { Text = calendar };
        invitation.ContentType.Parameters.Add("method", method);
        ways.Add(invitation);
        return new Multipart("mixed")
        {
            ways,
            new TextPart("calendar")
            {
                Text = calendar,
                ContentDisposition = new ContentDisposition(ContentDisposition.Attachment)
                {
                    FileName = "invitation.ics",
                },
            },
        };
    }

    [LoggerMessage(1301, LogLevel.Warning, "A mail could not be sent")]
    private partial void NotSent(Exception bad);
}

/// <summary>Mails that the desk sends.</summary>
internal static class MailFeature
{
    public static void AddMail(this WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<BounceAddress>();
        builder.Services.AddSingleton<Postman>();
        builder.Services.AddSingleton<TextGateway>();
        if (!PlatformFeature.IsDocumentBuild)
            builder.Services.AddHostedService<LetterRound>();
    }

    /// <summary>Whether a text is one e-mail address and nothing else.</summary>
    public static bool IsAddress(string text) =>
        MailboxAddress.TryParse(text, out var parsed)
        && parsed.Address == text
        && text.LastIndexOf('@') is > 0 and var at
        && at < text.Length - 3;
}
