using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;

namespace Outcry.Bench;

/// <summary>The baseline: reads a body of the same size as JSON and answers JSON of the plan's own length, with nothing between.</summary>
internal static class EmptyEndpoint
{
    public static async Task RunAsync(string url, int answerBytes)
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        builder.Services.ConfigureHttpJsonOptions(o =>
            o.SerializerOptions.TypeInfoResolverChain.Insert(0, EmptyJson.Default)
        );
        var app = builder.Build();
        var filler = Enumerable
            .Repeat("a run of text as long as those of a turn", Math.Max(1, answerBytes / 43))
            .ToList();
        app.MapPost("/v/plan", (EmptyRequest request) => TypedResults.Ok(new EmptyAnswer(request.Site, filler)));
        app.Urls.Add(url);
        await app.RunAsync();
    }
}

internal sealed record EmptyRequest(string Site, string Page, int Width, string? Passport);

internal sealed record EmptyAnswer(string Site, IReadOnlyList<string> Filler);

[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase)]
[JsonSerializable(typeof(EmptyRequest))]
[JsonSerializable(typeof(EmptyAnswer))]
internal sealed partial class EmptyJson : JsonSerializerContext;
