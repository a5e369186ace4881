using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.HttpOverrides;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using NodaTime.Serialization.SystemTextJson;
using Npgsql;
using Outcry.Core.Access;
using Outcry.Store;

namespace Outcry.Server.Platform;

/// <summary>What every capability stands on: database, JSON, problem details, limits, headers.</summary>
internal static class PlatformFeature
{
    /// <summary>True while the OpenAPI document is made at build time: then nothing may run or connect.</summary>
    public static bool IsDocumentBuild { get; } =
        System.Reflection.Assembly.GetEntryAssembly()?.GetName().Name == "GetDocument.Insider";

    public static void AddPlatform(this WebApplicationBuilder builder)
    {
        var connection =
            builder.Configuration.GetConnectionString("Outcry") ?? "Host=127.0.0.1;Database=outcry;Username=outcry";
        builder.WebHost.ConfigureKestrel(k =>
        {
            k.AddServerHeader = false;
            k.Limits.MaxRequestBodySize = BodyLimits.DeskBytes;
        });
        // A line for each request would hold the tokens of links, and more of them than anybody reads. Settings can ask for it.
        builder.Configuration.Sources.Insert(
            0,
            new Microsoft.Extensions.Configuration.Memory.MemoryConfigurationSource
            {
                InitialData =
                [
                    new("Logging:LogLevel:Microsoft.AspNetCore", "Warning"),
                    // Its warnings are only that an answer which nobody may cache is not to be cached.
                    new("Logging:LogLevel:Microsoft.AspNetCore.Antiforgery", "Error"),
                    // It begins an activity and a scope for each request as long as it may write; traces begin their own.
                    new("Logging:LogLevel:Microsoft.AspNetCore.Hosting.Diagnostics", "None"),
                    new("Logging:LogLevel:Microsoft.EntityFrameworkCore", "Warning"),
                    new("Logging:LogLevel:Quartz", "Warning"),
                ],
            }
        );
        builder.AddTelemetry();
        builder.Services.AddSingleton<IClock>(SystemClock.Instance);
        builder.Services.AddOutcryData(connection);
        builder.AddProtectionKeys();
        builder.Services.ConfigureHttpJsonOptions(o => ConfigureJson(o.SerializerOptions));
        builder.Services.AddProblemDetails(o => o.CustomizeProblemDetails = Problems.AddTrace);
        builder.Services.AddExceptionHandler<UnexpectedFailure>();
        builder.Services.AddAntiforgery(o =>
        {
            o.HeaderName = "X-Outcry-Antiforgery";
            o.Cookie.Name = "outcry.antiforgery";
            o.Cookie.SameSite = SameSiteMode.Strict;
            o.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
            o.Cookie.HttpOnly = true;
        });
        builder.Services.AddResponseCompression(o =>
        {
            o.EnableForHttps = false;
            o.MimeTypes = ["text/html", "text/css", "text/javascript", "application/json", "image/svg+xml"];
        });
        builder.Services.Configure<ForwardedHeadersOptions>(o =>
        {
            o.ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto;
            foreach (
                var network in (builder.Configuration["Proxies"] ?? "").Split(
                    ',',
                    StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries
                )
            )
                o.KnownIPNetworks.Add(System.Net.IPNetwork.Parse(network));
        });
        builder.Services.AddLimits(builder.Configuration);
        builder.Services.AddApiDocument();
        builder.Services.AddHsts(o => o.MaxAge = TimeSpan.FromDays(180));
        builder.Services.AddSingleton<LoopWatch>();
        builder.Services.AddSingleton<Readiness>();
        if (!IsDocumentBuild)
        {
            builder.Services.AddSingleton<GettingReady>();
            builder.Services.AddHostedService(s => s.GetRequiredService<GettingReady>());
        }
        builder
            .Services.AddHealthChecks()
            .AddCheck<IsReady>("ready", tags: ["ready"])
            .AddCheck<DatabaseAnswers>("database", tags: ["ready"])
            .AddCheck<LoopsGoOn>("background", tags: ["ready"]);
        builder.Services.AddScoped<CurrentMember>();
        builder.Services.AddScoped<TraceBook>();
        builder.Services.AddSingleton<DeskAddress>();
        builder.Services.AddHttpContextAccessor();
        builder.Services.AddScoped<WorkspaceScope>();
    }

    /// <summary>The database's services, for the host and for programs that work beside it.</summary>
    public static void AddOutcryData(this IServiceCollection services, string connection)
    {
        // The same few questions are asked over and over: the database reads each once and not each time.
        var settings = new NpgsqlConnectionStringBuilder(connection);
        if (!settings.ShouldSerialize("Max Auto Prepare"))
            settings.MaxAutoPrepare = 200;
        connection = settings.ConnectionString;
        services.AddSingleton(_ =>
        {
            var source = new NpgsqlDataSourceBuilder(connection);
            source.UseNodaTime();
            return source.Build();
        });
        // One set of options, so that there is one model; its tables of members have one shape, whatever else the host is.
        services.Configure<IdentityOptions>(OutcryDb.UseSchema);
        services.AddDbContext<OutcryDb>(
            o => OutcryDb.Configure(o, connection),
            ServiceLifetime.Scoped,
            ServiceLifetime.Singleton
        );
        services.AddSingleton(s => new SystemDb(s.GetRequiredService<DbContextOptions<OutcryDb>>()));
    }

    public static void ConfigureJson(JsonSerializerOptions options)
    {
        options.ConfigureForNodaTime(DateTimeZoneProviders.Tzdb);
        // A missing or null part is a clear refusal at the door, never a surprise further in.
        options.RespectNullableAnnotations = true;
        options.AllowOutOfOrderMetadataProperties = true;
        options.RespectRequiredConstructorParameters = true;
        options.NumberHandling = JsonNumberHandling.Strict;
        options.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.CamelCase));
    }

    public static void UsePlatform(this WebApplication app)
    {
        app.Use(app.Services.GetRequiredService<Readiness>().EnterAsync);
        // A balancer on this machine says whose address it passes on; it decides places and limits, and is kept nowhere.
        app.UseForwardedHeaders();
        app.Use(
            (http, next) =>
            {
                QuietHeaders.Set(http.Response);
                return next(http);
            }
        );
        app.UseExceptionHandler();
        app.UseStatusCodePages();
        // The hot path knows no members: what only the desk needs would cost it more than planning does.
        app.UseWhen(IsDesk, UseDeskFiles);
        app.UseRouting();
        app.UseRateLimiter();
        app.UseWhen(IsDesk, UseMembers);
        // The host would put these in front of everything by itself, were it not told that they are there.
        ((IApplicationBuilder)app).Properties["__AuthenticationMiddlewareSet"] = true;
        ((IApplicationBuilder)app).Properties["__AuthorizationMiddlewareSet"] = true;
    }

    private static bool IsDesk(HttpContext http)
    {
        var path = http.Request.Path;
        return !(path.StartsWithSegments("/v") || path.StartsWithSegments("/o") || path.StartsWithSegments("/in"));
    }

    private static void UseDeskFiles(IApplicationBuilder desk)
    {
        desk.UseHsts();
        desk.UseMiddleware<SecurityHeaders>();
        desk.UseResponseCompression();
        desk.UseStaticFiles(DeskPages.Files);
    }

    private static void UseMembers(IApplicationBuilder desk)
    {
        desk.UseMiddleware<TextGate>();
        desk.UseMiddleware<SameOriginLine>();
        desk.UseAuthentication();
        desk.UseMiddleware<TokenDoor>();
        desk.UseMiddleware<WorkspaceAccess>();
        desk.UseAuthorization();
        desk.UseMiddleware<RightGuard>();
    }

    /// <summary>Begins the model of the database, over which a start takes longest, while everything else is put together.</summary>
    public static void BeginModel(this WebApplication app)
    {
        if (!IsDocumentBuild)
            _ = Task.Run(app.Services.GetRequiredService<SystemDb>().WarmUp);
    }

    /// <summary>Begins at once, on other cores, what requests would wait for: the sites, and the endpoints.</summary>
    public static void BeginReadiness(this WebApplication app)
    {
        if (IsDocumentBuild)
            return;
        app.Services.GetRequiredService<GettingReady>().Begin();
        // Said here, so that what is made now is what the host asks for a moment later.
        app.UseEndpoints(_ => { });
        _ = Task.Run(() => app.Services.GetRequiredService<EndpointDataSource>().Endpoints);
    }

    /// <summary>Brings the database to this version's shape, unless this run is no real one.</summary>
    public static async Task MigrateAsync(this WebApplication app)
    {
        if (IsDocumentBuild || app.Configuration.GetValue("Migrate", true) == false)
            return;
        await using var db = app.Services.GetRequiredService<SystemDb>().Open();
        if (await MigrationHistory.IsCurrentAsync(app.Services.GetRequiredService<NpgsqlDataSource>()))
            return;
        // Building an index over a year of events takes longer than any request may.
        db.Database.SetCommandTimeout(TimeSpan.FromMinutes(10));
        await db.Database.MigrateAsync();
    }

    public static void MapHealth(this WebApplication app)
    {
        app.MapHealthChecks("/health/live", new() { Predicate = _ => false });
        app.MapHealthChecks(
            "/health/ready",
            new() { Predicate = c => c.Tags.Contains("ready"), ResponseWriter = HealthAnswer.WriteAsync }
        );
        app.MapOpenApi("/openapi/{documentName}.json");
    }

    /// <summary>The group under which the desk's own endpoints stand: signed in, antiforgery on every write.</summary>
    public static RouteGroupBuilder MapDeskApi(this WebApplication app) =>
        app.MapGroup("/api")
            .RequireAuthorization()
            .WithMetadata(new RightDemand(Right.See))
            .AddEndpointFilter<AntiforgeryOnWrites>();
}

/// <summary>Opens the database for the system's own work, which sees every workspace.</summary>
internal sealed class SystemDb(DbContextOptions<OutcryDb> options)
{
    /// <summary>The system's own view of a database, for what works beside the host.</summary>
    public static SystemDb To(string connection)
    {
        var options = new DbContextOptionsBuilder<OutcryDb>();
        OutcryDb.Configure(options, connection);
        return new SystemDb(options.Options);
    }

    public OutcryDb Open() => new(options, WorkspaceScope.System);

    /// <summary>Makes what is made once, the model above all, before it is asked for; it connects to nothing.</summary>
    public void WarmUp()
    {
        using var db = Open();
        _ = db.Model;
    }
}
