from django.urls import path

from ridgeback.bench import views

app_name = "bench"
urlpatterns = [
    path("habitats/<int:pk>/bench/", views.bench, name="page"),
    path("habitats/<int:pk>/bench/step/", views.step, name="step"),
    path("habitats/<int:pk>/bench/changes/", views.changes, name="changes"),
    path("habitats/<int:pk>/bench/keep/", views.keep, name="keep"),
]
