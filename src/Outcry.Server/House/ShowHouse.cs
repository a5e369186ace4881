using System.Diagnostics;
using System.Net.Security;
using System.Net.Sockets;
using System.Reflection;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using NodaTime.Extensions;
using Outcry.Server.Mail;
using Outcry.Server.Platform;

namespace Outcry.Server.House;

/// <summary>One thing about the house, and whether somebody should see to it.</summary>
/// <param name="Name">What it is about.</param>
/// <param name="State">How it stands, in words.</param>
/// <param name="Advice">What to do; empty while it is well.</param>
internal sealed record HousePart(string Name, string State, string Advice);

/// <param name="Version">Of this program.</param>
/// <param name="StartedAt">When this node started.</param>
internal sealed record HouseView(string Version, Instant StartedAt, IReadOnlyList<HousePart> Parts);

/// <summary>The state of the house: database, disk, mails, jobs, clock, certificate, backup. Shown to the owners of the house's first workspace: it is about everybody's.</summary>
internal static class ShowHouse
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(3);
    private const double GiB = 1024d * 1024 * 1024;

    public static async Task<Results<Ok<HouseView>, ProblemHttpResult>> HandleAsync(
        Guid workspaceId,
        SystemDb database,
        LoopWatch watch,
        Postman postman,
        IConfiguration configuration,
        IClock clock,
        CancellationToken stop
    )
    {
        await using var db = database.Open();
        var first = await db.Workspaces.OrderBy(w => w.CreatedAt).ThenBy(w => w.Id).Select(w => w.Id).FirstAsync(stop);
        if (first != workspaceId)
            return Problems.NotFound("house to look after");
        var now = clock.GetCurrentInstant();
        return TypedResults.Ok(
            new HouseView(
                Assembly.GetExecutingAssembly().GetName().Version?.ToString(3) ?? "",
                Process.GetCurrentProcess().StartTime.ToUniversalTime().ToInstant(),
                [
                    await DatabaseAsync(db, stop),
                    Disk(configuration["Keys:File"]),
                    await MailsAsync(db, postman, now, stop),
                    Jobs(watch),
                    await ClockAsync(db, clock, stop),
                    await CertificateAsync(configuration["Desk:Address"], now, stop),
                    Keys(configuration["Keys:File"]),
                    await BackupAsync(db, now, stop),
                ]
            )
        );
    }

    private static async Task<HousePart> DatabaseAsync(Store.OutcryDb db, CancellationToken stop)
    {
        var started = Stopwatch.GetTimestamp();
        var size = await db
            .Database.SqlQuery<long>($"select pg_database_size(current_database()) as \"Value\"")
            .FirstAsync(stop);
        var took = Stopwatch.GetElapsedTime(started);
        var version = await db
            .Database.SqlQuery<string>($"select current_setting('server_version') as \"Value\"")
            .FirstAsync(stop);
        var (open, most) = (
            await db
                .Database.SqlQuery<int>(
                    $"select count(*)::int as \"Value\" from pg_stat_activity where datname = current_database()"
                )
                .FirstAsync(stop),
            await db
                .Database.SqlQuery<int>($"select current_setting('max_connections')::int as \"Value\"")
                .FirstAsync(stop)
        );
        return new HousePart(
            "Database",
            $"PostgreSQL {version}, {size / GiB:0.0} GB, {open} of {most} connections, answers in {took.TotalMilliseconds:0.0} ms",
            open > most * 0.8 ? "Nearly all connections are taken. Allow more, or fewer nodes."
                : took > TimeSpan.FromMilliseconds(250) ? "It answers slowly. See what else its machine does."
                : ""
        );
    }

    private static HousePart Disk(string? keysFile)
    {
        var path = keysFile is { Length: > 0 } file
            ? Path.GetDirectoryName(Path.GetFullPath(file))!
            : AppContext.BaseDirectory;
        var drive = new DriveInfo(path);
        var (free, whole) = (drive.AvailableFreeSpace / GiB, drive.TotalSize / GiB);
        return new HousePart(
            "Disk",
            $"{free:0.0} of {whole:0.0} GB are free where this node keeps its files",
            free < 2 || free < whole * 0.05 ? "It is nearly full. Make room before uploads and logs fail." : ""
        );
    }

    private static async Task<HousePart> MailsAsync(
        Store.OutcryDb db,
        Postman postman,
        Instant now,
        CancellationToken stop
    )
    {
        var waiting = await db.Letters.CountAsync(stop);
        var oldest = await db.Letters.MinAsync(l => (Instant?)l.MadeAt, stop);
        return !postman.IsSet
            ? new HousePart(
                "Mails",
                $"No mail server is set; {waiting} wait",
                "Set Mail:Host. Until then nobody gets invitations, links or messages by mail."
            )
            : new HousePart(
                "Mails",
                waiting == 0
                    ? "None waits"
                    : $"{waiting} wait, the oldest for {(now - oldest!.Value).TotalMinutes:0} minutes",
                oldest is { } at && now - at > Duration.FromMinutes(30)
                    ? "The mail server does not take them. See the log for why."
                    : ""
            );
    }

    private static HousePart Jobs(LoopWatch watch)
    {
        var health = watch.Health();
        return new HousePart(
            "Jobs",
            health.Description ?? "All go round",
            health.Status == Microsoft.Extensions.Diagnostics.HealthChecks.HealthStatus.Healthy
                ? ""
                : "See the log. What broke begins again by itself; what is passed over is told there."
        );
    }

    private static async Task<HousePart> ClockAsync(Store.OutcryDb db, IClock clock, CancellationToken stop)
    {
        var theirs = await db.Database.SqlQuery<Instant>($"select clock_timestamp() as \"Value\"").FirstAsync(stop);
        var apart = theirs - clock.GetCurrentInstant();
        return new HousePart(
            "Clock",
            $"This node and the database are {Math.Abs(apart.TotalMilliseconds):0} ms apart",
            Math.Abs(apart.TotalSeconds) > 2
                ? "Set both by a time server: signatures, hours and limits go by them."
                : ""
        );
    }

    private static async Task<HousePart> CertificateAsync(string? address, Instant now, CancellationToken stop)
    {
        if (!Uri.TryCreate(address, UriKind.Absolute, out var desk))
            return new HousePart(
                "Address",
                "Desk:Address is not set",
                "Set it to where people reach the desk: links in mails go by it."
            );
        if (desk.Scheme != Uri.UriSchemeHttps)
            return new HousePart("Address", $"{desk} is not encrypted", "Put it behind TLS before strangers reach it.");
        try
        {
            using var patience = CancellationTokenSource.CreateLinkedTokenSource(stop);
            patience.CancelAfter(Patience);
            using var socket = new TcpClient();
            await socket.ConnectAsync(desk.Host, desk.Port, patience.Token);
#pragma warning disable CA5359 // Only looked at, nothing is sent: whether it is to be trusted is for the browsers that come there.
            await using var tls = new SslStream(socket.GetStream(), leaveInnerStreamOpen: false, (_, _, _, _) => true);
#pragma warning restore CA5359
            await tls.AuthenticateAsClientAsync(
                new SslClientAuthenticationOptions { TargetHost = desk.Host },
                patience.Token
            );
            using var certificate = new System.Security.Cryptography.X509Certificates.X509Certificate2(
                tls.RemoteCertificate!
            );
            var left = certificate.NotAfter.ToUniversalTime().ToInstant() - now;
            return new HousePart(
                "Address",
                $"{desk.Host} has a certificate for {Math.Floor(left.TotalDays):0} more days",
                left < Duration.FromDays(14) ? "Renew the certificate." : ""
            );
        }
        catch (Exception failed)
            when (failed
                    is SocketException
                        or IOException
                        or OperationCanceledException
                        or System.Security.Authentication.AuthenticationException
            )
        {
            return new HousePart(
                "Address",
                $"{desk} could not be reached from here",
                "See whether the proxy runs, and whether this machine may reach it."
            );
        }
    }

    private static HousePart Keys(string? file) =>
        file is { Length: > 0 }
            ? new HousePart("Keys", $"The keys in the database are encrypted by {Path.GetFileName(file)}", "")
            : new HousePart(
                "Keys",
                "The keys in the database lie in the clear",
                "Set Keys:File, and keep a copy of that file apart from the database."
            );

    private static async Task<HousePart> BackupAsync(Store.OutcryDb db, Instant now, CancellationToken stop)
    {
        var last = await db.Backups.OrderByDescending(b => b.At).FirstOrDefaultAsync(stop);
        return last is null
            ? new HousePart(
                "Backup",
                "None was ever made with ./outcry backup",
                "Make one each night, and keep it on another machine."
            )
            : new HousePart(
                "Backup",
                $"The last was made {(now - last.At).TotalHours:0} hours ago, {last.Bytes / 1024d / 1024:0.0} MB",
                now - last.At > Duration.FromDays(2)
                    ? "It is older than two days. See whether the nightly one still runs."
                    : ""
            );
    }
}
