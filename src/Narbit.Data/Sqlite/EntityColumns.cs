using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;

namespace Narbit.Data.Sqlite;

/// <summary>A table as EF Core's model has it, and what an entity puts into each of its columns.</summary>
internal sealed class EntityColumns
{
    private static readonly ConcurrentDictionary<(IModel, Type), EntityColumns> Known = [];

    private readonly Func<object, object?>[] _values;

    private EntityColumns(IEntityType entity)
    {
        Table = entity.GetTableName()!;
        var at = StoreObjectIdentifier.Table(Table, entity.GetSchema());
        var key = entity.FindPrimaryKey()!.Properties;
        Generated = key is [{ ValueGenerated: ValueGenerated.OnAdd } only] && only.ClrType == typeof(long) ? only : null;
        var own = entity.GetProperties().Where(p => p != Generated).Select(p => (Property: p, Of: (INavigation?)null));
        var owned = entity
            .GetNavigations()
            .Where(n => n.TargetEntityType.IsOwned() && !n.IsCollection && n.TargetEntityType.GetTableName() == Table)
            .SelectMany(n =>
                n.TargetEntityType.GetProperties().Where(p => !p.IsPrimaryKey()).Select(p => (Property: p, Of: (INavigation?)n))
            );
        var columns = own.Concat(owned).ToList();
        Names = [.. columns.Select(c => c.Property.GetColumnName(at)!)];
        _values = [.. columns.Select(c => Value(c.Property, c.Of))];
    }

    /// <summary>The table's name.</summary>
    public string Table { get; }

    /// <summary>The key that the database gives; null: the entity has its own.</summary>
    public IProperty? Generated { get; }

    /// <summary>The columns, without the one that the database gives.</summary>
    public IReadOnlyList<string> Names { get; }

    /// <summary>The columns of an entity.</summary>
    public static EntityColumns Of<T>(IModel model) =>
        Known.GetOrAdd((model, typeof(T)), k => new EntityColumns(k.Item1.FindEntityType(k.Item2)!));

    /// <summary>What an entity puts into the columns, in their order.</summary>
    public object?[] Row(object entity)
    {
        var row = new object?[_values.Length];
        for (var i = 0; i < row.Length; i++)
            row[i] = _values[i](entity);
        return row;
    }

    private static Func<object, object?> Value(IProperty property, INavigation? of)
    {
        var get = property.GetGetter();
        var converter = property.GetTypeMapping().Converter;
        var owner = of?.GetGetter();
        return entity =>
        {
            var holder = owner is null ? entity : owner.GetClrValue(entity);
            var value = holder is null ? null : get.GetClrValue(holder);
            return value is null || converter is null ? value : converter.ConvertToProvider(value);
        };
    }
}
