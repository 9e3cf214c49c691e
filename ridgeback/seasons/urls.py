from django.urls import path

from ridgeback.seasons import brumation, overview

app_name = "seasons"
urlpatterns = [
    path("seasons/", overview.overview, name="overview"),
    path("animals/<int:pk>/brumation/", brumation.brumation, name="brumation"),
    path("brumations/<int:pk>/stop/", brumation.stop, name="stop"),
]
