namespace Narbit.Data.Mirror;

public enum ReadState
{
    Reading,
    Done,
    Failed,
}
