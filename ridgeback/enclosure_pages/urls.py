from django.urls import path

from ridgeback.enclosure_pages import records, views

app_name = "enclosures"
urlpatterns = [
    path("", views.enclosure_list, name="list"),
    path("enclosures/<int:pk>/", views.enclosure_page, name="page"),
    path("enclosures/<int:pk>/edit/", views.edit, name="edit"),
    path("enclosures/<int:pk>/animals/", views.animals, name="animals"),
    path("enclosures/<int:pk>/humidity/", views.humidity, name="humidity"),
    path("enclosures/<int:pk>/calibration/", views.learned, name="calibration"),
    path("enclosures/<int:pk>/preview/", views.preview, name="preview"),
    path("enclosures/<int:pk>/save/", views.save, name="save"),
    path("enclosures/<int:pk>/discard/", views.discard, name="discard"),
    path("enclosures/<int:pk>/apply/", views.apply_change, name="apply"),
    path("enclosures/<int:pk>/undo/", views.undo, name="undo"),
    path("enclosures/<int:pk>/built/", views.mark_built, name="built"),
    path("enclosures/<int:pk>/readings/", views.add_reading, name="add-reading"),
    path("enclosures/<int:pk>/records/", records.records, name="records"),
    path("enclosures/<int:pk>/records/reading/", records.delete_reading, name="delete-reading"),
    path("enclosures/<int:pk>/delete/", records.delete_enclosure, name="delete"),
    path("enclosures/<int:pk>/simulate/", views.simulate, name="simulate"),
    path("enclosures/<int:pk>/move-in/", views.move_in, name="move-in"),
    path("enclosures/<int:pk>/move-out/", views.move_out, name="move-out"),
    path("enclosures/<int:pk>/calculation/", views.calculation, name="calculation"),
    path("enclosures/<int:pk>/drawing.svg", views.drawing_file, name="drawing"),
    path("enclosures/<int:pk>/request.json", views.request_file, name="request"),
]
