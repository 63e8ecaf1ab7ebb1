using Microsoft.AspNetCore.Http.HttpResults;
using Narbit.Data;
using Narbit.Engine.Lanes.Orders;
using Narbit.Web.Api;

namespace Narbit.Web.Orders;

/// <summary>All orders, wherever they stand.</summary>
internal static class OrdersApi
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/orders", ListAsync).WithName("listOrders").WithTags("Orders");
        api.MapGet("/orders.{form:regex(^(csv|xlsx)$)}", ExportAsync).WithName("exportOrders").WithTags("Orders");
    }

    private static async Task<Ok<OrderList>> ListAsync(
        [AsParameters] OrderFilter filter,
        int? offset,
        int? limit,
        OrderShelf shelf,
        CancellationToken cancel
    ) => TypedResults.Ok(await shelf.ListAsync(filter, new Window(offset, limit), cancel));

    private static async Task<FileContentHttpResult> ExportAsync(
        string form,
        [AsParameters] OrderFilter filter,
        OrderShelf shelf,
        CancellationToken cancel
    ) => Sheets.File(form, "orders", [.. OrderShelf.Columns], await shelf.TableAsync(filter, cancel));
}
