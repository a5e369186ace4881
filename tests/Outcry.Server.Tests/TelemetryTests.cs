using System.Collections.Concurrent;
using System.Diagnostics.Metrics;
using System.Text.Json;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using Outcry.Server.Platform;

namespace Outcry.Server.Tests;

/// <summary>The house measures itself, and sends that nowhere unless it is told where to.</summary>
public sealed class TelemetryTests(TestDesk desk)
{
    [Fact]
    public async Task Plans_signals_and_events_are_counted()
    {
        var counted = new ConcurrentDictionary<string, long>();
        using var listener = new MeterListener
        {
            InstrumentPublished = (instrument, on) =>
            {
                if (instrument.Meter.Name == Telemetry.Name)
                    on.EnableMeasurementEvents(instrument);
            },
        };
        listener.SetMeasurementEventCallback<long>((i, n, _, _) => counted.AddOrUpdate(i.Name, n, (_, sum) => sum + n));
        listener.Start();
        await new Browser(desk).PlanAsync("/counted");
        await new Sender(desk).SendAsync(Sender.Purchase($"counted-{Guid.NewGuid():N}"));
        Assert.True(counted.GetValueOrDefault("outcry.plans") >= 1);
        Assert.True(counted.GetValueOrDefault("outcry.events") >= 1);
    }

    [Fact]
    public async Task The_trace_id_that_a_person_passes_on_stands_in_the_log()
    {
        await using var services = new ServiceCollection()
            .AddLogging()
            .AddProblemDetails(o => o.CustomizeProblemDetails = Problems.AddTrace)
            .BuildServiceProvider();
        var http = new DefaultHttpContext { RequestServices = services };
        http.Response.Body = new MemoryStream();
        var log = new LinesOfLog();
        var failure = new UnexpectedFailure(services.GetRequiredService<IProblemDetailsService>(), log);
        Assert.True(await failure.TryHandleAsync(http, new InvalidOperationException("broken"), default));
        http.Response.Body.Position = 0;
        using var answer = await JsonDocument.ParseAsync(http.Response.Body);
        var trace = answer.RootElement.GetProperty("traceId").GetString();
        Assert.False(string.IsNullOrEmpty(trace));
        Assert.EndsWith($"trace id {trace}", Assert.Single(log.Written), StringComparison.Ordinal);
    }

    private sealed class LinesOfLog : ILogger<UnexpectedFailure>
    {
        public List<string> Written { get; } = [];

        public IDisposable? BeginScope<TState>(TState state)
            where TState : notnull => null;

        public bool IsEnabled(LogLevel logLevel) => true;

        public void Log<TState>(
            LogLevel logLevel,
            EventId eventId,
            TState state,
            Exception? exception,
            Func<TState, Exception?, string> formatter
        ) => Written.Add(formatter(state, exception));
    }

    [Fact]
    public void An_address_that_is_none_stops_the_start_with_one_sentence()
    {
        var builder = WebApplication.CreateBuilder();
        builder.Configuration["Telemetry:Otlp"] = "over there";
        var refusal = Assert.Throws<InvalidOperationException>(builder.AddTelemetry);
        Assert.Contains("\"over there\", which is no address", refusal.Message);
    }

    [Fact]
    public async Task What_is_measured_goes_to_the_address_that_the_settings_name()
    {
        var arrived = new TaskCompletionSource<string>(TaskCreationOptions.RunContinuationsAsynchronously);
        var collector = WebApplication.CreateSlimBuilder().Build();
        collector.Urls.Add("http://127.0.0.1:0");
        collector.MapPost("/{**path}", (string path) => arrived.TrySetResult(path));
        await collector.StartAsync();
        var builder = WebApplication.CreateBuilder();
        builder.Configuration["Telemetry:Otlp"] = collector.Urls.First();
        builder.Configuration["Telemetry:Protocol"] = "http";
        builder.AddTelemetry();
        await using (var house = builder.Build())
        {
            house.Urls.Add("http://127.0.0.1:0");
            await house.StartAsync();
            using (Telemetry.Begin("a round"))
                Telemetry.Planned();
            await house.StopAsync();
        }
        Assert.StartsWith("v1/", await arrived.Task.WaitAsync(TimeSpan.FromSeconds(20)));
        await collector.StopAsync();
    }
}
