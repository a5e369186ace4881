using System.Diagnostics;
using System.Diagnostics.Metrics;
using OpenTelemetry;
using OpenTelemetry.Logs;
using OpenTelemetry.Metrics;
using OpenTelemetry.Resources;
using OpenTelemetry.Trace;
using Outcry.Store.Rows;

namespace Outcry.Server.Platform;

/// <summary>What the house measures of itself. It goes nowhere unless the setting "Telemetry:Otlp" names where to.</summary>
/// <remarks>No name, address or content of anybody stands in it: counts, durations and kinds of outcome only.</remarks>
internal static class Telemetry
{
    /// <summary>The name of the traces' source and of the meter.</summary>
    public const string Name = "Outcry";

    private static readonly ActivitySource Source = new(Name);
    private static readonly Meter Meter = new(Name);

    private static readonly Counter<long> PlansMade = Meter.CreateCounter<long>(
        "outcry.plans",
        "{plan}",
        "Page views planned."
    );

    private static readonly Counter<long> SignalsTaken = Meter.CreateCounter<long>(
        "outcry.signals",
        "{signal}",
        "Reports of snippets that were committed."
    );

    private static readonly Counter<long> EventsTaken = Meter.CreateCounter<long>(
        "outcry.events",
        "{event}",
        "Events that came in, by what became of them."
    );

    private static readonly Histogram<double> RefreshTook = Meter.CreateHistogram<double>(
        "outcry.site.refresh",
        "s",
        "How long a live site took to take in what came."
    );

    private static readonly Counter<long> PollsMade = Meter.CreateCounter<long>(
        "outcry.polls",
        "{poll}",
        "Addresses polled, by outcome."
    );

    private static readonly Counter<long> MailsSent = Meter.CreateCounter<long>(
        "outcry.mails",
        "{mail}",
        "Mails handed over, by outcome."
    );

    public static void Planned() => PlansMade.Add(1);

    public static void Took(int signals) => SignalsTaken.Add(signals);

    public static void CameIn(long events, DeliveryVerdict verdict) =>
        EventsTaken.Add(events, new KeyValuePair<string, object?>("verdict", verdict.ToString()));

    public static void Refreshed(TimeSpan took) => RefreshTook.Record(took.TotalSeconds);

    public static void Polled(bool isWell) => PollsMade.Add(1, Outcome(isWell));

    public static void Mailed(bool isWell) => MailsSent.Add(1, Outcome(isWell));

    private static KeyValuePair<string, object?> Outcome(bool isWell) => new("outcome", isWell ? "well" : "failed");

    /// <summary>A stretch of background work, as a trace of its own; null while nobody listens.</summary>
    public static Activity? Begin(string what) => Source.StartActivity(what);

    /// <summary>Sends traces, metrics and logs by OTLP to the address that the settings name; by none, nothing is gathered.</summary>
    public static void AddTelemetry(this WebApplicationBuilder builder)
    {
        if (builder.Configuration["Telemetry:Otlp"] is not { Length: > 0 } written)
            return;
        if (!Uri.TryCreate(written, UriKind.Absolute, out var address))
            throw new InvalidOperationException(
                $"The setting Telemetry:Otlp is \"{written}\", which is no address. Write one such as http://127.0.0.1:4317, or leave it out."
            );
        var protocol = string.Equals(
            builder.Configuration["Telemetry:Protocol"],
            "http",
            StringComparison.OrdinalIgnoreCase
        )
            ? OpenTelemetry.Exporter.OtlpExportProtocol.HttpProtobuf
            : OpenTelemetry.Exporter.OtlpExportProtocol.Grpc;
        builder.Logging.AddOpenTelemetry(l => l.IncludeFormattedMessage = true);
        builder
            .Services.AddOpenTelemetry()
            .ConfigureResource(r => r.AddService("outcry"))
            // Addresses of requests may hold tokens; which endpoint it was is enough.
            .WithTracing(t =>
                t.AddSource(Name)
                    .AddAspNetCoreInstrumentation(o =>
                        o.EnrichWithHttpRequest = (activity, _) =>
                        {
                            activity.SetTag("url.query", null);
                            activity.SetTag("url.path", null);
                        }
                    )
            )
            .WithMetrics(m => m.AddMeter(Name).AddAspNetCoreInstrumentation())
            .UseOtlpExporter(protocol, address);
    }
}
