using Microsoft.AspNetCore.Http.HttpResults;
using Outcry.Core.Access;
using Outcry.Core.Publishing;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Publishing;

/// <summary>A draft to keep.</summary>
/// <param name="Version">The version it was made from; a newer one at the server is never overwritten.</param>
internal sealed record SaveDraftRequest<TContent>(string Name, TContent Content, int Version)
    where TContent : class;

/// <summary>One to begin.</summary>
internal sealed record StartDefinitionRequest<TContent>(string Name, TContent Content)
    where TContent : class;

/// <summary>What is put live.</summary>
/// <param name="Version">The draft's version that was looked at; a newer one is not published unseen.</param>
internal sealed record PublishRequest(int Version);

/// <param name="Group">The group's name, at most 40 characters; empty to take it out of any.</param>
internal sealed record GroupRequest(string Group);

/// <summary>Maps the use cases of a kind.</summary>
internal interface IDefinitionRoutes
{
    void Map(RouteGroupBuilder api);
}

/// <summary>The use cases of one kind, under a path that is its noun.</summary>
internal sealed class DefinitionRoutes<TContent, TCompiled, TView>(
    string noun,
    Func<DeskDefinition<TContent>, TView> view,
    bool hasOwnList
) : IDefinitionRoutes
    where TContent : class
    where TCompiled : class
{
    private readonly string _name = $"{char.ToUpperInvariant(noun[0])}{noun[1..]}";

    public void Map(RouteGroupBuilder api)
    {
        if (!hasOwnList)
        {
            var all = api.MapGroup($"/sites/{{siteId:guid}}/{noun}s").WithTags($"{_name}s");
            all.MapGet("", ListAsync).WithName($"List{_name}s");
            all.MapPost("", StartAsync).For(Right.Draft).WithName($"Start{_name}");
        }
        var one = api.MapGroup($"/sites/{{siteId:guid}}/{noun}s/{{id:guid}}").WithTags($"{_name}s");
        one.MapGet("", ShowAsync).WithName($"Get{_name}");
        one.MapPut("/draft", SaveAsync).For(Right.Draft).WithName($"Save{_name}Draft");
        one.MapPost("/publish", PublishAsync).For(Right.Publish).WithName($"Publish{_name}");
        one.MapPost("/duplicate", DuplicateAsync).For(Right.Draft).WithName($"Duplicate{_name}");
        MapMove(one, DefinitionMove.Pause, Right.Publish);
        MapMove(one, DefinitionMove.Resume, Right.Publish);
        MapMove(one, DefinitionMove.Archive, Right.Draft);
        MapMove(one, DefinitionMove.Restore, Right.Draft);
        one.MapDelete("", DeleteAsync).For(Right.Draft).WithName($"Delete{_name}");
        one.MapPost("/take-back", TakeBackAsync).For(Right.Draft).WithName($"TakeBack{_name}");
        one.MapGet("/revisions", RevisionsAsync).WithName($"List{_name}Revisions");
        one.MapPut("/group", GroupAsync).For(Right.Draft).WithName($"Group{_name}");
    }

    private void MapMove(RouteGroupBuilder one, DefinitionMove move, Right right) =>
        one.MapPost(
                $"/{move.ToString().ToLowerInvariant()}",
                async Task<Results<Ok<TView>, ProblemHttpResult>> (
                    Guid siteId,
                    Guid id,
                    DefinitionDesk<TContent, TCompiled> desk,
                    CancellationToken stop
                ) => Answer(await desk.MoveAsync(siteId, id, move, stop))
            )
            .For(right)
            .WithName($"{move}{_name}");

    private async Task<Ok<List<TView>>> ListAsync(
        Guid siteId,
        DefinitionDesk<TContent, TCompiled> desk,
        CancellationToken stop,
        bool archived = false,
        bool deleted = false
    ) =>
        TypedResults.Ok(
            (await desk.ListAsync(siteId, DefinitionQueries.ShelfOf(archived, deleted), stop)).ConvertAll(d => view(d))
        );

    private async Task<Results<Created<TView>, ProblemHttpResult>> StartAsync(
        Guid siteId,
        StartDefinitionRequest<TContent> request,
        DefinitionDesk<TContent, TCompiled> desk,
        CancellationToken stop
    ) => Made(siteId, await desk.StartAsync(siteId, request.Name, request.Content, stop));

    private Results<Created<TView>, ProblemHttpResult> Made(Guid siteId, DeskAnswer<DeskDefinition<TContent>> made) =>
        made.Problem is { } problem
            ? problem
            : TypedResults.Created($"/api/sites/{siteId}/{noun}s/{made.Value!.Row.Id}", view(made.Value));

    private async Task<Results<Ok<TView>, ProblemHttpResult>> ShowAsync(
        Guid siteId,
        Guid id,
        DefinitionDesk<TContent, TCompiled> desk,
        CancellationToken stop
    ) => Answer(await desk.ShowAsync(siteId, id, stop));

    private async Task<Results<Ok<TView>, ProblemHttpResult>> SaveAsync(
        Guid siteId,
        Guid id,
        SaveDraftRequest<TContent> request,
        DefinitionDesk<TContent, TCompiled> desk,
        CancellationToken stop
    ) => Answer(await desk.SaveDraftAsync(siteId, id, request, stop));

    private async Task<Results<Ok<TView>, ProblemHttpResult>> PublishAsync(
        Guid siteId,
        Guid id,
        PublishRequest request,
        DefinitionDesk<TContent, TCompiled> desk,
        CancellationToken stop
    ) => Answer(await desk.PublishAsync(siteId, id, request.Version, stop));

    private async Task<Results<Created<TView>, ProblemHttpResult>> DuplicateAsync(
        Guid siteId,
        Guid id,
        DefinitionDesk<TContent, TCompiled> desk,
        CancellationToken stop
    ) => Made(siteId, await desk.DuplicateAsync(siteId, id, stop));

    private static async Task<Results<NoContent, ProblemHttpResult>> DeleteAsync(
        Guid siteId,
        Guid id,
        DefinitionDesk<TContent, TCompiled> desk,
        CancellationToken stop
    ) => await desk.DeleteAsync(siteId, id, stop) is { } problem ? problem : TypedResults.NoContent();

    private async Task<Results<Ok<TView>, ProblemHttpResult>> TakeBackAsync(
        Guid siteId,
        Guid id,
        DefinitionDesk<TContent, TCompiled> desk,
        CancellationToken stop
    ) => Answer(await desk.TakeBackAsync(siteId, id, stop));

    private static async Task<Results<Ok<List<Revision<TContent>>>, ProblemHttpResult>> RevisionsAsync(
        Guid siteId,
        Guid id,
        DefinitionDesk<TContent, TCompiled> desk,
        CancellationToken stop
    )
    {
        var (revisions, problem) = await desk.RevisionsAsync(siteId, id, stop);
        return problem is not null ? problem : TypedResults.Ok(revisions!);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> GroupAsync(
        Guid siteId,
        Guid id,
        GroupRequest request,
        DefinitionDesk<TContent, TCompiled> desk,
        CancellationToken stop
    ) => await desk.GroupAsync(siteId, id, request.Group, stop) is { } problem ? problem : TypedResults.NoContent();

    private Results<Ok<TView>, ProblemHttpResult> Answer(DeskAnswer<DeskDefinition<TContent>> answer) =>
        answer.Problem is { } problem ? problem : TypedResults.Ok(view(answer.Value!));
}
