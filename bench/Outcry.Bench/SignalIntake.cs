using System.Diagnostics;
using System.Globalization;
using Microsoft.Extensions.Logging.Abstractions;
using NodaTime;
using Npgsql;
using NpgsqlTypes;
using Outcry.Server.Platform;
using Outcry.Server.Visitor;
using Outcry.Store.Signals;

namespace Outcry.Bench;

/// <summary>Durable signal intake, as 64 senders of ten signals see it, against raw binary COPY of the same rows with a commit per batch.</summary>
internal static class SignalIntake
{
    private const int Rounds = 9;
    private const int Senders = 64;
    private const int PerRequest = 10;
    private const int RawBatch = 1_000;
    private static readonly TimeSpan RoundLength = TimeSpan.FromSeconds(2);

    public static async Task RunAsync(string connection, string file)
    {
        var builder = new NpgsqlDataSourceBuilder(connection);
        builder.UseNodaTime();
        await using var source = builder.Build();
        await using (
            var make = source.CreateCommand(
                "drop table if exists raw_signals; create table raw_signals (id uuid, day date, site_id uuid, at timestamptz, kind smallint, visitor_id text, visit integer, path text, callout_id uuid, value integer, device smallint)"
            )
        )
            await make.ExecuteNonQueryAsync();
        var writer = new SignalWriter(new SignalCopy(source), NullLogger<SignalWriter>.Instance);
        await OursAsync(writer);
        await RawAsync(source);
        var ours = new List<double>();
        var raw = new List<double>();
        for (var round = 0; round < Rounds; round++)
        {
            ours.Add(await OursAsync(writer));
            raw.Add(await RawAsync(source));
        }
        var ratios = ours.Zip(raw, (o, r) => o / r).ToList();
        var spread = string.Create(
            CultureInfo.InvariantCulture,
            $"ratio {ratios.Min():0.00} to {ratios.Max():0.00} over {Rounds} rounds"
        );
        new Figure(
            "signals-durable",
            Figure.Median(ours),
            "signals per second",
            Figure.Median(raw),
            Figure.Median(ratios),
            spread
        ).Append(file);
    }

    private static async Task<double> OursAsync(SignalWriter writer)
    {
        var clock = Stopwatch.StartNew();
        var written = await Task.WhenAll(
            Enumerable
                .Range(0, Senders)
                .Select(_ =>
                    Task.Run(async () =>
                    {
                        var count = 0;
                        while (clock.Elapsed < RoundLength)
                        {
                            if (!await writer.WriteAsync(Make(PerRequest)))
                                throw new InvalidOperationException(
                                    "A write was refused; the figure would mean nothing."
                                );
                            count += PerRequest;
                        }
                        return count;
                    })
                )
        );
        return written.Sum() / clock.Elapsed.TotalSeconds;
    }

    private static async Task<double> RawAsync(NpgsqlDataSource source)
    {
        var clock = Stopwatch.StartNew();
        var count = 0;
        await using var connection = await source.OpenConnectionAsync();
        while (clock.Elapsed < RoundLength)
        {
            await using var copy = await connection.BeginBinaryImportAsync(
                "copy raw_signals from stdin (format binary)"
            );
            foreach (var s in Make(RawBatch))
            {
                await copy.StartRowAsync();
                await copy.WriteAsync(s.Id, NpgsqlDbType.Uuid);
                await copy.WriteAsync(s.At.InUtc().Date, NpgsqlDbType.Date);
                await copy.WriteAsync(s.SiteId, NpgsqlDbType.Uuid);
                await copy.WriteAsync(s.At, NpgsqlDbType.TimestampTz);
                await copy.WriteAsync((short)s.Kind, NpgsqlDbType.Smallint);
                await copy.WriteAsync(s.VisitorId, NpgsqlDbType.Text);
                await copy.WriteAsync(s.Visit, NpgsqlDbType.Integer);
                await copy.WriteAsync(s.Path, NpgsqlDbType.Text);
                await copy.WriteAsync(s.CalloutId!.Value, NpgsqlDbType.Uuid);
                await copy.WriteAsync(s.Value, NpgsqlDbType.Integer);
                await copy.WriteAsync(s.Device, NpgsqlDbType.Smallint);
                count++;
            }
            await copy.CompleteAsync();
        }
        return count / clock.Elapsed.TotalSeconds;
    }

    private static readonly Guid Site = Guid.NewGuid();
    private static readonly Guid Callout = Guid.NewGuid();

    private static List<Signal> Make(int number)
    {
        var now = SystemClock.Instance.GetCurrentInstant();
        return
        [
            .. Enumerable
                .Range(0, number)
                .Select(_ => new Signal(
                    // As the snippet makes them: they begin with the time.
                    Guid.CreateVersion7(),
                    Site,
                    now,
                    SignalKind.Shown,
                    "0123456789abcdef0123",
                    1,
                    "/shop/ash-glaze-mug",
                    Callout,
                    0,
                    0
                )),
        ];
    }
}
