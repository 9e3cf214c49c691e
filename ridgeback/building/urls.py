from django.urls import path

from ridgeback.building import commissioning, views

app_name = "building"
urlpatterns = [
    path("enclosures/<int:pk>/build/", views.build, name="build"),
    path("enclosures/<int:pk>/build.csv", views.build_csv, name="build-csv"),
    path("enclosures/<int:pk>/build.ics", views.build_ics, name="build-ics"),
    path("enclosures/<int:pk>/commissioning/", commissioning.commission, name="commissioning"),
    path(
        "enclosures/<int:pk>/commissioning/read/",
        commissioning.read_beside,
        name="commissioning-read",
    ),
    path("enclosures/<int:pk>/settle-in/", commissioning.settle_in, name="settle-in"),
]
