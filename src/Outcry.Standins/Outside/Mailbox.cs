using System.Collections.Concurrent;
using System.Net;
using System.Net.Sockets;
using System.Text;

namespace Outcry.Standins.Outside;

/// <summary>A mail that came in.</summary>
/// <param name="From">The return path: where it comes back to.</param>
/// <param name="Calendar">An invitation that is in it; empty for none.</param>
internal sealed record ReceivedMail(
    DateTimeOffset At,
    string From,
    string To,
    string Subject,
    string Text,
    string Calendar
);

/// <summary>Where the mailbox hands on what came back.</summary>
/// <param name="Desk">The desk's door for it; null for nowhere.</param>
/// <param name="Key">What it shows there.</param>
internal sealed record ComesBack(Uri? Desk, string Key);

/// <summary>Takes mails in over SMTP (RFC 5321, as much of it as one sender needs) on loopback and keeps them to be read; sends nothing on.</summary>
internal sealed class Mailbox(int port, ComesBack back) : BackgroundService
{
    private static readonly HttpClient Http = new() { Timeout = TimeSpan.FromSeconds(10) };
    private const int MostKept = 1_000;
    private const int LongestMail = 1_000_000;
    private readonly ConcurrentQueue<ReceivedMail> _mails = new();

    public IReadOnlyList<ReceivedMail> Mails => [.. _mails.Reverse()];

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (port == 0)
            return;
        using var listener = new TcpListener(IPAddress.Loopback, port);
        listener.Start();
        try
        {
            while (true)
            {
                var client = await listener.AcceptTcpClientAsync(stoppingToken);
                _ = Task.Run(() => TalkAsync(client, stoppingToken), stoppingToken);
            }
        }
        catch (OperationCanceledException)
        {
            // The stand-in is stopping.
        }
    }

    private async Task TalkAsync(TcpClient client, CancellationToken stop)
    {
        using (client)
            try
            {
                await using var stream = client.GetStream();
                using var reader = new StreamReader(stream, Encoding.UTF8);
                await using var writer = new StreamWriter(stream, new UTF8Encoding(false))
                {
                    NewLine = "\r\n",
                    AutoFlush = true,
                };
                await writer.WriteLineAsync("220 mailbox");
                var (from, to) = ("", "");
                while (await reader.ReadLineAsync(stop) is { } line)
                {
                    var word = line.Split(' ')[0].ToUpperInvariant();
                    if (word == "MAIL")
                        from = PathIn(line);
                    if (word == "RCPT")
                        to = PathIn(line);
                    if (word == "DATA")
                    {
                        await writer.WriteLineAsync("354 go on");
                        Keep(from, to, await ReadMailAsync(reader, stop));
                        // Whoever is called gone had a mailbox once: their mail is taken, and comes back.
                        if (to.StartsWith("gone", StringComparison.OrdinalIgnoreCase))
                            await HandBackAsync(from, to, stop);
                    }
                    // Whoever is called nobody has no mailbox, so that it can be seen what the desk makes of it.
                    var isNobody = word == "RCPT" && to.StartsWith("nobody", StringComparison.OrdinalIgnoreCase);
                    await writer.WriteLineAsync(
                        word == "QUIT" ? "221 bye"
                        : isNobody ? "550 5.1.1 no such mailbox"
                        : "250 ok"
                    );
                    if (word == "QUIT")
                        return;
                }
            }
            catch (IOException)
            {
                // The sender went away in the middle; there is nobody to tell.
            }
    }

    private static string PathIn(string line)
    {
        var begin = line.IndexOf('<', StringComparison.Ordinal) + 1;
        var end = line.IndexOf('>', begin);
        return end < 0 ? line[begin..] : line[begin..end];
    }

    private async Task HandBackAsync(string from, string to, CancellationToken stop)
    {
        if (back.Desk is null)
            return;
        using var request = new HttpRequestMessage(HttpMethod.Post, back.Desk)
        {
            Content = new StringContent(ReportOf(from, to), Encoding.UTF8, "message/rfc822"),
        };
        request.Headers.Authorization = new("Bearer", back.Key);
        try
        {
            using var answer = await Http.SendAsync(request, stop);
        }
        catch (Exception away) when (away is HttpRequestException or TaskCanceledException)
        {
            // The desk is away; a real server would try again.
        }
    }

    /// <summary>A delivery status notification (RFC 3464) that says nobody is there.</summary>
    public static string ReportOf(string from, string to, string status = "5.1.1") =>
        string.Join(
            "\r\n",
            "From: Mail Delivery <postmaster@mailbox.example>",
            $"To: <{from}>",
            "Subject: Undelivered mail",
            "MIME-Version: 1.0",
            "Content-Type: multipart/report; report-type=delivery-status; boundary=\"b\"",
            "",
            "--b",
            "Content-Type: text/plain; charset=utf-8",
            "",
            "This mail could not be delivered.",
            "",
            "--b",
            "Content-Type: message/delivery-status",
            "",
            "Reporting-MTA: dns; mailbox.example",
            "",
            $"Final-Recipient: rfc822; {to}",
            "Action: failed",
            $"Status: {status}",
            "",
            "--b--",
            ""
        );

    private static async Task<string> ReadMailAsync(StreamReader reader, CancellationToken stop)
    {
        var mail = new StringBuilder();
        while (await reader.ReadLineAsync(stop) is { } line && line != ".")
            if (mail.Length < LongestMail)
                mail.Append(line.StartsWith("..", StringComparison.Ordinal) ? line[1..] : line).Append('\n');
        return mail.ToString();
    }

    private void Keep(string from, string to, string mail)
    {
        var message = MimeKit.MimeMessage.Load(new MemoryStream(Encoding.UTF8.GetBytes(mail)));
        _mails.Enqueue(
            new ReceivedMail(
                DateTimeOffset.UtcNow,
                from,
                to,
                message.Subject ?? "",
                message.TextBody ?? "",
                message
                    .BodyParts.OfType<MimeKit.TextPart>()
                    .FirstOrDefault(p => p.ContentType.IsMimeType("text", "calendar"))
                    ?.Text
                    ?? ""
            )
        );
        while (_mails.Count > MostKept)
            _mails.TryDequeue(out _);
    }
}
