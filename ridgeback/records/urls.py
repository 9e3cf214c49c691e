from django.urls import path

from ridgeback.records import chart_views, file_views, hygrometer_views

app_name = "records"
urlpatterns = [
    path("enclosures/<int:pk>/logger-files/", file_views.files, name="files"),
    path("enclosures/<int:pk>/charts/", chart_views.charts, name="charts"),
    path("enclosures/<int:pk>/humidity-log/", hygrometer_views.hygrometer, name="hygrometer"),
    path(
        "enclosures/<int:pk>/humidity-log/use/",
        hygrometer_views.use_hygrometer,
        name="use-hygrometer",
    ),
    path("channels/<int:pk>/values.csv", chart_views.values, name="values"),
    path("channels/<int:pk>/chart.svg", chart_views.drawing, name="drawing"),
    path("channels/<int:pk>/edit/", chart_views.edit, name="edit-channel"),
    path("channels/<int:pk>/delete/", chart_views.delete, name="delete-channel"),
    path("logger-files/<int:pk>/", file_views.logger_file, name="file"),
    path("logger-files/<int:pk>/stop/", file_views.stop, name="stop-file"),
    path("logger-files/<int:pk>/take-back/", file_views.take_back, name="take-back"),
]
