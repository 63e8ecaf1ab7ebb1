using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core.Records;

namespace Narbit.Data.Mirror;

public enum ReadState
{
    Reading,
    Done,
    Failed,
}
