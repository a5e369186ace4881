using System.Reflection;
using Microsoft.OpenApi;
using NodaTime;

namespace Outcry.Server.Platform;

/// <summary>The OpenAPI 3.1 document of everything that is answered here.</summary>
internal static class ApiDocument
{
    public static void AddApiDocument(this IServiceCollection services) =>
        services.AddOpenApi(
            "v1",
            o =>
            {
                // A HEAD is its GET without the body; described twice, its name would be taken twice.
                o.ShouldInclude = described => described.HttpMethod is not "HEAD";
                o.AddDocumentTransformer(
                    (document, _, _) =>
                    {
                        document.Info.Title = "Outcry";
                        document.Info.Description =
                            "What a website says to whom, where, when and how often. /in and /v are open to senders and snippets; /api is the desk's own.";
                        document.Servers = [];
                        return Task.CompletedTask;
                    }
                );
                o.AddSchemaTransformer(
                    async (schema, context, stop) =>
                    {
                        // What is written ahead as bytes reads like any other.
                        if (context.JsonTypeInfo.Type.GetCustomAttribute<WrittenAsAttribute>() is { } written)
                        {
                            var same = await context.GetOrCreateSchemaAsync(written.Type, null, stop);
                            (schema.Type, schema.Properties, schema.Required) = (
                                same.Type,
                                same.Properties,
                                same.Required
                            );
                        }
                        if (FormatOf(context.JsonTypeInfo.Type) is { } format)
                        {
                            schema.Type = JsonSchemaType.String;
                            schema.Format = format;
                            schema.Properties?.Clear();
                            schema.Required?.Clear();
                        }
                    }
                );
            }
        );

    // Times are written as ISO 8601 texts; a local one has no offset, since its zone is the site's.
    private static string? FormatOf(Type type)
    {
        var bare = Nullable.GetUnderlyingType(type) ?? type;
        return bare == typeof(Instant) ? "date-time"
            : bare == typeof(LocalDateTime) ? "local-date-time"
            : bare == typeof(LocalTime) ? "local-time"
            : null;
    }
}

/// <summary>Of a type that writes itself: the type whose JSON it writes.</summary>
[AttributeUsage(AttributeTargets.Class | AttributeTargets.Struct)]
internal sealed class WrittenAsAttribute(Type type) : Attribute
{
    public Type Type => type;
}
