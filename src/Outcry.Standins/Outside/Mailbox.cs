using System.Collections.Concurrent;
using System.Net;
using System.Net.Sockets;
using System.Text;

namespace Outcry.Standins.Outside;

/// <summary>A mail that came in.</summary>
/// <param name="Calendar">An invitation that is in it; empty for none.</param>
internal sealed record ReceivedMail(DateTimeOffset At, string To, string Subject, string Text, string Calendar);

/// <summary>Takes mails in over SMTP (RFC 5321, as much of it as one sender needs) on loopback and keeps them to be read; sends nothing on.</summary>
internal sealed class Mailbox(int port) : BackgroundService
{
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
                var to = "";
                while (await reader.ReadLineAsync(stop) is { } line)
                {
                    var word = line.Split(' ')[0].ToUpperInvariant();
                    if (word == "RCPT")
                        to = line[(line.IndexOf('<', StringComparison.Ordinal) + 1)..].TrimEnd('>');
                    if (word == "DATA")
                    {
                        await writer.WriteLineAsync("354 go on");
                        Keep(to, await ReadMailAsync(reader, stop));
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

    private static async Task<string> ReadMailAsync(StreamReader reader, CancellationToken stop)
    {
        var mail = new StringBuilder();
        while (await reader.ReadLineAsync(stop) is { } line && line != ".")
            if (mail.Length < LongestMail)
                mail.Append(line.StartsWith("..", StringComparison.Ordinal) ? line[1..] : line).Append('\n');
        return mail.ToString();
    }

    private void Keep(string to, string mail)
    {
        var message = MimeKit.MimeMessage.Load(new MemoryStream(Encoding.UTF8.GetBytes(mail)));
        _mails.Enqueue(
            new ReceivedMail(
                DateTimeOffset.UtcNow,
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
