"""The shelf's addresses."""

from django.urls import path

from studio.shelf import file_views, house_views, ladder_views, list_views, stock_views, strand_views, views

app_name = "shelf"
urlpatterns = [
    path("shelf/", views.shelf, name="shelf"),
    path("shelf/add/", list_views.add, name="add"),
    path("shelf/take/", file_views.take, name="take"),
    path("shelf/shelf.json", file_views.shelf_json, name="shelf-json"),
    path("shelf/lines/<int:line_id>.json", file_views.line_json, name="line-json"),
    path("shelf/lines/<int:line_id>.csv", file_views.line_csv, name="line-csv"),
    path("shelf/lists/<int:list_id>/undo/", list_views.undo, name="undo"),
    path("shelf/tubes/<int:shade_id>/", views.tube, name="tube"),
    path("shelf/tubes/<int:shade_id>/off/", views.off, name="off"),
    path("shelf/tubes/<int:shade_id>/delivery/", stock_views.delivery, name="delivery"),
    path("shelf/tubes/<int:shade_id>/count/", stock_views.counting, name="count"),
    path("shelf/tubes/<int:shade_id>/spilt/", stock_views.spilling, name="spilt"),
    path("shelf/tubes/<int:shade_id>/strands/", strand_views.strands, name="strands"),
    path("shelf/strands/<int:strand_id>/forget/", strand_views.forget, name="forget-strand"),
    path("shelf/order/", stock_views.order, name="order"),
    path("shelf/order.csv", stock_views.order_csv, name="order-csv"),
    path("house/", house_views.house, name="house"),
    path("house/ladder/", ladder_views.ladder, name="ladder"),
    path("house/lines/<int:line_id>/", house_views.line, name="line"),
]
