namespace Allowance.Store;

/// <summary>
/// A small table as it was read, until it is written to: one directory is held by one program, so nobody else writes it. A
/// screen asks for it many times.
/// </summary>
internal sealed class Kept<T>(Database database, Func<T> read) where T : class
{
    private readonly Lock gate = new();
    private T? value;
    private int takenOver;

    public T Value
    {
        get
        {
            lock (gate)
            {
                if (takenOver != database.TakenOver) (value, takenOver) = (null, database.TakenOver);
                return value ??= read();
            }
        }
    }

    /// <summary>Writes, and reads it anew the next time; also where writing did not succeed.</summary>
    public TResult After<TResult>(Func<TResult> write)
    {
        try
        {
            return write();
        }
        finally
        {
            lock (gate) value = null;
        }
    }
}
