namespace Outcry.Server.Sites;

/// <summary>
/// What comes to a state in memory while another is read that is to take its place, and what still comes to it afterwards:
/// the other gets both, each once.
/// </summary>
/// <param name="take">Takes one in. Called by one at a time.</param>
internal sealed class Handover<T>(Action<T> take)
{
    private readonly Lock _gate = new();
    private List<T>? _whileLoading;
    private Handover<T>? _successor;

    /// <summary>Takes one in. Of a state that was replaced the successor does.</summary>
    public void Take(T came)
    {
        Handover<T>? successor;
        lock (_gate)
        {
            successor = _successor;
            if (successor is null)
            {
                _whileLoading?.Add(came);
                take(came);
            }
        }
        successor?.Take(came);
    }

    /// <summary>What comes in from now on, whoever is to replace this may not have read.</summary>
    public void ExpectSuccessor()
    {
        lock (_gate)
            _whileLoading = [];
    }

    /// <summary>Nothing replaces this now, or it has been replaced.</summary>
    public void ExpectNoSuccessor()
    {
        lock (_gate)
            _whileLoading = null;
    }

    /// <summary>Takes the place of another: what came in while this was read is taken over, and what still comes there is passed on.</summary>
    public void Follow(Handover<T> before)
    {
        lock (before._gate)
        {
            foreach (var came in before._whileLoading ?? [])
                Take(came);
            before._successor = this;
        }
    }
}
