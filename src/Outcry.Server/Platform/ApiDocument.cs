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
                        // Written ahead as bytes; what it says is a turn all the same.
                        if (context.JsonTypeInfo.Type == typeof(Visitor.ReadyTurn))
                        {
                            var turn = await context.GetOrCreateSchemaAsync(typeof(Visitor.TurnPart), null, stop);
                            (schema.Type, schema.Properties, schema.Required) = (
                                turn.Type,
                                turn.Properties,
                                turn.Required
                            );
                        }
                        if (
                            context.JsonTypeInfo.Type == typeof(Instant)
                            || context.JsonTypeInfo.Type == typeof(Instant?)
                        )
                        {
                            schema.Type = JsonSchemaType.String;
                            schema.Format = "date-time";
                            schema.Properties?.Clear();
                            schema.Required?.Clear();
                        }
                    }
                );
            }
        );
}
