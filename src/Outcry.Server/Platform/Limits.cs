using System.Globalization;
using System.Threading.RateLimiting;
using Microsoft.AspNetCore.RateLimiting;

namespace Outcry.Server.Platform;

/// <summary>How fast one sender may come. Each limit is a setting under "Limits".</summary>
internal static class Limits
{
    public const string SignIn = "sign-in";
    public const string Intake = "intake";
    public const string Visitor = "visitor";

    public static void AddLimits(this IServiceCollection services, IConfiguration configuration)
    {
        var signInsPerMinute = configuration.GetValue("Limits:SignInsPerMinute", 20);
        var intakePerSecond = configuration.GetValue("Limits:IntakePerSecond", 100);
        var visitorPerSecond = configuration.GetValue("Limits:VisitorPerSecond", 200);
        services.AddRateLimiter(o =>
        {
            o.AddPolicy(SignIn, http => PerMinute(AddressBlock.Of(http), signInsPerMinute));
            o.AddPolicy(
                Intake,
                http => PerSecond($"{http.GetRouteValue("sourceId") ?? http.GetRouteValue("siteKey")}", intakePerSecond)
            );
            // Many visitors can share an address, so this only stops floods.
            o.AddPolicy(Visitor, http => PerSecond(AddressBlock.Of(http), visitorPerSecond));
            o.OnRejected = RefuseAsync;
        });
    }

    private static RateLimitPartition<string> PerSecond(string key, int perSecond) =>
        RateLimitPartition.GetTokenBucketLimiter(
            key,
            _ => new TokenBucketRateLimiterOptions
            {
                TokenLimit = perSecond * 5,
                TokensPerPeriod = perSecond,
                ReplenishmentPeriod = TimeSpan.FromSeconds(1),
                QueueLimit = 0,
            }
        );

    private static RateLimitPartition<string> PerMinute(string key, int perMinute) =>
        RateLimitPartition.GetFixedWindowLimiter(
            key,
            _ => new FixedWindowRateLimiterOptions
            {
                PermitLimit = perMinute,
                Window = TimeSpan.FromMinutes(1),
                QueueLimit = 0,
            }
        );

    private static async ValueTask RefuseAsync(OnRejectedContext context, CancellationToken stop)
    {
        var wait = context.Lease.TryGetMetadata(MetadataName.RetryAfter, out var after)
            ? after
            : TimeSpan.FromSeconds(1);
        var seconds = Math.Max(1, (int)Math.Ceiling(wait.TotalSeconds));
        context.HttpContext.Response.Headers.RetryAfter = seconds.ToString(CultureInfo.InvariantCulture);
        await Problems
            .Of(
                StatusCodes.Status429TooManyRequests,
                "too-many",
                "Too many requests",
                $"Wait {seconds} {(seconds == 1 ? "second" : "seconds")} and try again."
            )
            .ExecuteAsync(context.HttpContext);
    }
}
