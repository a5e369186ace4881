using Outcry.Core.Access;
using Outcry.Server.Platform;

namespace Outcry.Server.House;

/// <summary>How the house itself stands, for whoever runs it.</summary>
internal static class HouseFeature
{
    public static void MapHouse(this RouteGroupBuilder api) =>
        api.MapGet("/workspaces/{workspaceId:guid}/house", ShowHouse.HandleAsync)
            .For(Right.Govern)
            .WithTags("House")
            .WithName("GetHouse");
}
