namespace Outcry.Server.Platform;

/// <summary>What every answer says, also to strangers: take it for what it says it is, and keep it nowhere unless told otherwise.</summary>
internal static class QuietHeaders
{
    public static void Set(HttpResponse response)
    {
        response.Headers.XContentTypeOptions = "nosniff";
        response.Headers.CacheControl = "no-store";
    }
}
